import { StrictMode } from 'react';
import { createRoot } from 'react-dom/client';
import { App } from './App.js';
import { begin } from './model/session.js';
import './style/index.css';

createRoot(document.getElementById('workbench')!).render(
  <StrictMode>
    <App />
  </StrictMode>,
);
void begin();
