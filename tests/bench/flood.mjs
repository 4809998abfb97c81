// Asks a server for the same thing over and over, from some addresses of this machine, as a thread of its own: what measures beside
// it must not wait for it.
import { Agent, request } from 'node:http';
import { parentPort, workerData } from 'node:worker_threads';

const { addresses, atOnce, url, headers, body, end } = workerData;
const agents = Array.from(
  { length: addresses },
  (_, i) => new Agent({ keepAlive: true, localAddress: `127.0.0.${i + 2}`, maxSockets: atOnce }),
);
const random = () => Math.random().toString(36).slice(2).padEnd(22, 'x').slice(0, 22);
/** Each is another, where something is to be another each time. */
const own = (text) => text.replaceAll('RANDOM', random());

const ask = (i) =>
  new Promise((resolve) => {
    const agent = agents[i % addresses];
    const method = body === undefined ? 'GET' : 'POST';
    const asked = request(own(url), { agent, method, headers }, (response) => {
      response.resume();
      response.on('end', () => resolve(response.statusCode));
      response.on('error', () => resolve(0));
    });
    asked.on('error', () => resolve(0));
    asked.end(
      body === undefined || body.length > 1e6 ? body : body.replaceAll('RANDOM', random().slice(0, 16)),
    );
  });

const answers = {};
await Promise.all(
  Array.from({ length: atOnce }, async (_, i) => {
    for (let k = i; Date.now() < end; k += atOnce) {
      const status = await ask(k);
      answers[status] = (answers[status] ?? 0) + 1;
    }
  }),
);
for (const agent of agents) agent.destroy();
parentPort.postMessage(answers);
