// Serves what the build made; says in words why it does not.
import { fileURLToPath } from 'node:url';

/** @returns the address it is at */
export async function serve() {
  process.env.NODE_ENV ??= 'production';
  const { serve: start } = await import('../build/server/index.js');
  try {
    const { url, stop } = await start(fileURLToPath(new URL('../build/client', import.meta.url)));
    for (const signal of ['SIGINT', 'SIGTERM'])
      process.once(signal, () => {
        // whoever asks a second time does not want to wait
        process.once(signal, () => process.exit(1));
        void stop().then(() => process.exit(0));
      });
    return url;
  } catch (error) {
    if (error?.name === 'SettingsError') console.error(error.message);
    else if (error?.code === 'EADDRINUSE')
      console.error(
        `Papillon does not start: another program listens on port ${error.port}. Set PORT to another one.`,
      );
    else console.error(error);
    process.exit(1);
  }
}
