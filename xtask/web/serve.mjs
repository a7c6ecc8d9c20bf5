// Serves this folder on this machine, as any small server for pages does.
import { createServer } from 'node:http';
import { readFile } from 'node:fs/promises';
import { extname, join, normalize } from 'node:path';

const kinds = {
  '.html': 'text/html', '.js': 'text/javascript', '.css': 'text/css',
  '.json': 'application/json', '.png': 'image/png',
};

createServer(async (request, response) => {
  const path = normalize(new URL(request.url, 'http://here').pathname);
  const file = join(process.cwd(), path.endsWith('/') ? path + 'index.html' : path);
  try {
    const bytes = await readFile(file);
    response.writeHead(200, { 'content-type': kinds[extname(file)] ?? 'text/plain' });
    response.end(bytes);
  } catch {
    response.writeHead(404, { 'content-type': 'text/plain' });
    response.end('not here');
  }
}).listen(Number(process.env.PORT ?? 8000), '127.0.0.1', () => {
  console.log(`serving at http://127.0.0.1:${process.env.PORT ?? 8000}/`);
});
