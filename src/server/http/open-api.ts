import type { Route } from './route';

/** OpenAPI 3.1 from the same table and schemas that serve the requests. */
export function openApi(routes: readonly Route[]): Record<string, unknown> {
  const paths: Record<string, Record<string, unknown>> = {};
  for (const { method, path, role, says, body } of routes) {
    const shown = path.replace(/:(\w+)/g, '{$1}');
    paths[shown] = {
      ...paths[shown],
      [method]: {
        summary: says,
        description: role === 'anyone' ? 'No sign-in needed.' : `Role: ${role}.`,
        parameters: [...path.matchAll(/:(\w+)/g)].map(([, name]) => ({
          name,
          in: 'path',
          required: true,
          schema: { type: 'string' },
        })),
        ...(body ? { requestBody: { required: true, content: { 'application/json': { schema: body } } } } : {}),
        responses: {
          '200': { description: 'Done.' },
          default: { description: 'RFC 9457 problem details.', content: { 'application/problem+json': {} } },
        },
      },
    };
  }
  return { openapi: '3.1.0', info: { title: 'Yellow Bell', version: '0.1.0' }, paths };
}
