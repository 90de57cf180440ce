import type { TSchema } from 'typebox';
import type { Description } from '../../core/api/description';
import type { Route } from './route';

const problem = {
  description: 'RFC 9457 problem details: what is wrong, its place, what was kept, and what to do.',
  content: {
    'application/problem+json': {
      schema: {
        type: 'object',
        required: ['type', 'title', 'status'],
        properties: {
          type: { type: 'string' },
          title: { type: 'string' },
          status: { type: 'integer' },
          place: { type: 'string' },
          kept: { type: 'string' },
          act: { type: 'string' },
        },
      },
    },
  },
};

/** OpenAPI 3.1 from the same contract that serves the requests: every parameter, body and answer. */
export function openApi(routes: readonly Route[]): Description {
  const paths: Description['paths'] = {};
  for (const { method, path, role, says, body, query, answer, gives, upload, changes, limits } of routes) {
    const shown = path.replace(/:(\w+)/g, '{$1}');
    const asked = (query as { properties?: Record<string, TSchema>; required?: string[] } | undefined) ?? {};
    paths[shown] = {
      ...paths[shown],
      [method]: {
        summary: says,
        description: [
          role === 'anyone' ? 'No sign-in needed.' : `Role: ${role}.`,
          ...(limits ?? []).map(
            (limit) => `At most ${limit.most} ${limit.refusedOnly ? 'refused ' : ''}in ${limit.seconds} s for one ${limit.by}.`,
          ),
          ...(changes.length > 0 ? [`Changes: ${changes.join(', ')}.`] : []),
        ].join(' '),
        parameters: [
          ...[...path.matchAll(/:(\w+)/g)].map(([, name]) => ({
            name,
            in: 'path',
            required: true,
            schema: { type: 'string' },
          })),
          ...Object.entries(asked.properties ?? {}).map(([name, schema]) => ({
            name,
            in: 'query',
            required: asked.required?.includes(name) ?? false,
            schema,
          })),
        ],
        ...(upload !== undefined
          ? { requestBody: { required: true, content: { 'application/octet-stream': {} } } }
          : body
            ? { requestBody: { required: true, content: { 'application/json': { schema: body } } } }
            : {}),
        responses: {
          default: problem,
          ...(gives === 'answer'
            ? { '200': { description: 'Done.', content: { 'application/json': { schema: answer } } } }
            : gives === 'file'
              ? { '200': { description: 'A file.', content: { 'application/octet-stream': {} as { schema?: unknown } } } }
              : gives === 'page'
                ? { '200': { description: 'A page.', content: { 'text/html': {} as { schema?: unknown } } } }
                : { '302': { description: 'Goes on to the address.' } }),
        },
      },
    };
  }
  return { openapi: '3.1.0', info: { title: 'Yellow Bell', version: '0.1.0' }, paths };
}
