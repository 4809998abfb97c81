import { main } from './main.ts';

/** Runs the command as a shell does. @returns what it ended with, and what it said */
export async function runCommand(args: readonly string[], stop?: AbortSignal) {
  let [out, err] = ['', ''];
  const code = await main([...args], {
    out: (text) => {
      out += text;
    },
    err: (text) => {
      err += text;
    },
    ...(stop ? { stop } : {}),
  });
  return { code, out, err };
}
