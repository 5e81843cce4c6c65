import { unspool } from '@unspool/vite';
import { defineConfig } from 'vite';

export default defineConfig({ plugins: [unspool({ workbench: true })] });
