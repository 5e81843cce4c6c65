import { unspool } from '@unspool/vite';
import { defineConfig } from 'vite';

// The reels of the game, as the game has them.
export default defineConfig({ plugins: [unspool({ types: false })] });
