import { join } from 'node:path';
import { createApp } from './app';

const port = Number(process.env['PORT'] ?? 5175);
const host = process.env['HOST'] ?? '127.0.0.1';
if (!Number.isInteger(port) || port < 0 || port > 65535) {
  console.error(`PORT must be a whole number from 0 to 65535, not "${process.env['PORT']}".`);
  process.exit(2);
}
const server = createApp(join(import.meta.dirname, '../..')).listen(port, host, (err?: Error & { code?: string }) => {
  if (err) {
    console.error(err.code === 'EADDRINUSE' ? `Port ${port} is taken. Choose another one: PORT=5180 npm start` : `The server cannot start: ${err.message}`);
    process.exit(1);
  }
  const at = server.address();
  console.log(`Rowanleaf is ready: http://${host === '127.0.0.1' ? 'localhost' : host}:${typeof at === 'object' && at ? at.port : port}  (Ctrl+C stops it, PORT=... changes the port)`);
});
for (const signal of ['SIGINT', 'SIGTERM'] as const)
  process.on(signal, () => {
    server.close(() => process.exit(0));
    server.closeIdleConnections();
    // Connections that a browser keeps open must not hold the process up.
    setTimeout(() => server.closeAllConnections(), 500).unref();
  });
