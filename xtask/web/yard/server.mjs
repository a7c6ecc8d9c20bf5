// The yard's small server: files of the page, and its answers.
import http from 'node:http';
import fs from 'node:fs/promises';
import path from 'node:path';
import { dispatch, route } from './router.mjs';
import { finish, listJobs, openJob } from './jobs.mjs';

const TYPES = { '.html': 'text/html', '.js': 'text/javascript', '.css': 'text/css' };

route('GET', '/jobs', () => listJobs());
route('POST', '/jobs', ({ body }) => openJob(body));
route('POST', '/jobs/done', ({ body }) => finish(body.id));
route('GET', '/crane', ({ query }) => ({ load: Number(query.get('tons')) * 0.8, free: true }));

async function readBody(request) {
  const chunks = [];
  for await (const chunk of request) {
    chunks.push(chunk);
  }
  return chunks.length ? JSON.parse(Buffer.concat(chunks).toString()) : undefined;
}

async function sendFile(name, response) {
  const file = path.join('public', path.normalize(name === '/' ? 'index.html' : name));
  const bytes = await fs.readFile(file).catch(() => null);
  response.statusCode = bytes ? 200 : 404;
  response.setHeader('content-type', TYPES[path.extname(file)] ?? 'text/plain');
  response.end(bytes ?? 'no such file');
}

const server = http.createServer(async (request, response) => {
  const name = request.url.split('?')[0];
  if (request.method === 'GET' && (name === '/' || path.extname(name))) {
    await sendFile(name, response);
    return;
  }
  try {
    const { status, value } = await dispatch(request, await readBody(request));
    response.statusCode = status;
    response.setHeader('content-type', 'application/json');
    response.end(JSON.stringify(value));
  } catch (problem) {
    console.error(problem);
    response.statusCode = 500;
    response.end('{"problem":"the yard is in disorder"}');
  }
});

server.listen(8150, '127.0.0.1', () => console.log('yard at http://127.0.0.1:8150/'));
