// Serves the built application with the user's own data: npm start
import { existsSync } from 'node:fs';
import { ensurePackages, run } from './setup.mjs';

ensurePackages();
if (!existsSync('build/server/index.js')) run('npx', ['react-router', 'build']);
run('npx', ['react-router-serve', 'build/server/index.js'], {
  NODE_ENV: 'production',
  HOST: process.env.HOST || '127.0.0.1',
  PORT: process.env.PORT || '3000',
});
