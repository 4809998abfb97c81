// Serves the built application with the user's own data: npm start
import { existsSync } from 'node:fs';
import { serve } from './serve.mjs';
import { ensurePackages, run } from './setup.mjs';

ensurePackages();
if (!existsSync('build/server/index.js')) run('npx', ['react-router', 'build']);
console.log(`Papillon is at ${await serve()}`);
