// Who answers which address.
const table = new Map();

export function route(verb, path, handler) {
  table.set(`${verb} ${path}`, handler);
}

export async function dispatch(request, body) {
  const { pathname, searchParams } = new URL(request.url, 'http://yard');
  const handler = table.get(`${request.method} ${pathname}`);
  if (!handler) {
    return { status: 404, value: { problem: 'nobody answers here' } };
  }
  return { status: 200, value: await handler({ body, query: searchParams }) };
}
