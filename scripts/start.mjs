// Serves the built application with the user's own data: npm start
import { serve } from './serve.mjs';
import { ensureBuild, ensurePackages, ensurePort } from './setup.mjs';

await ensurePort(process.env.PORT || '3000', process.env.HOST || '127.0.0.1');
await ensurePackages();
await ensureBuild();
console.log(`Papillon is at ${await serve()}`);
