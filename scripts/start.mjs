// Serves the built application with the user's own data: npm start
import { serve } from './serve.mjs';
import { ensureBuild, ensurePackages } from './setup.mjs';

await ensurePackages();
await ensureBuild();
console.log(`Papillon is at ${await serve()}`);
