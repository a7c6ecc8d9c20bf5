// The ticket office: a small server for the page in `public`.
import { createServer } from 'node:http';
import { readFile } from 'node:fs/promises';
import { extname, join, normalize } from 'node:path';
import { answerTo } from './routes.mjs';

const kinds = { '.html': 'text/html', '.js': 'text/javascript', '.css': 'text/css' };
const port = Number(process.env.PORT ?? 8000);

async function serveFile(path, response) {
  const file = join('public', normalize(path === '/' ? '/index.html' : path));
  try {
    const bytes = await readFile(file);
    response.writeHead(200, { 'content-type': kinds[extname(file)] ?? 'text/plain' });
    response.end(bytes);
  } catch {
    response.writeHead(404, { 'content-type': 'text/plain' });
    response.end('not here');
  }
}

async function bodyOf(request) {
  let text = '';
  for await (const part of request) text += part;
  return text ? JSON.parse(text) : {};
}

createServer(async (request, response) => {
  const path = new URL(request.url, 'http://here').pathname;
  if (!path.startsWith('/api/')) {
    return serveFile(path, response);
  }
  try {
    const answer = await answerTo(request.method, path, await bodyOf(request));
    response.writeHead(answer ? 200 : 404, { 'content-type': 'application/json' });
    response.end(JSON.stringify(answer ?? { error: 'no such address' }));
  } catch (error) {
    console.error(error);
    response.writeHead(500, { 'content-type': 'application/json' });
    response.end(JSON.stringify({ error: 'the office is closed' }));
  }
}).listen(port, '127.0.0.1', () => {
  console.log(`the office is open at http://127.0.0.1:${port}/`);
});
