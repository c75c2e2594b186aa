import { join } from 'node:path';
import { createApp } from './app';

const given = process.env['PORT'];
const host = process.env['HOST'] ?? '127.0.0.1';
const port = given === undefined ? 5175 : /^\d+$/.test(given) ? Number(given) : NaN;
if (!(port >= 0 && port <= 65535)) {
  console.error(`PORT must be a whole number from 0 to 65535, not "${given}". Leave it out for 5175.`);
  process.exit(2);
}
const hosts = [host, ...(process.env['HOSTS'] ?? '').split(',')].map((h) => h.trim()).filter(Boolean);
const server = createApp(join(import.meta.dirname, '../..'), hosts).listen(
  port,
  host,
  (err?: Error & { code?: string }) => {
    if (err) {
      console.error(
        err.code === 'EADDRINUSE'
          ? `Port ${port} is taken. Choose another one: PORT=5180 npm start`
          : `The server cannot start: ${err.message}`,
      );
      process.exit(1);
    }
    const at = server.address();
    console.log(
      `Rowanleaf is ready: ` +
        `http://${host === '127.0.0.1' ? 'localhost' : host}:${typeof at === 'object' && at ? at.port : port}` +
        `  (Ctrl+C stops it, PORT=... changes the port)`,
    );
  },
);
// What Node itself answers to a request that is no HTTP gets the headers too.
server.on('clientError', (err: Error & { code?: string }, socket) => {
  if (err.code === 'ECONNRESET' || !socket.writable) {
    socket.destroy();
    return;
  }
  const status = err.code === 'HPE_HEADER_OVERFLOW' ? '431 Request Header Fields Too Large' : '400 Bad Request';
  socket.end(
    `HTTP/1.1 ${status}\r\nConnection: close\r\nContent-Length: 0\r\nX-Content-Type-Options: nosniff\r\n` +
      "Content-Security-Policy: default-src 'none'\r\nCross-Origin-Resource-Policy: same-origin\r\n\r\n",
  );
});
let ending = false;
for (const signal of ['SIGINT', 'SIGTERM'] as const)
  process.on(signal, () => {
    if (ending) return;
    ending = true;
    server.close(() => process.exit(0));
    server.closeIdleConnections();
    // Connections that a browser keeps open, and downloads that crawl, must not hold the process up.
    setTimeout(() => server.closeAllConnections(), 500).unref();
    setTimeout(() => process.exit(0), 1500).unref();
  });
