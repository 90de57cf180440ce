import { Type } from 'typebox';
import { endpoint } from './endpoint';

/** One thing that can be asked, as OpenAPI tells it. */
export interface DescribedCall {
  summary: string;
  description: string;
  parameters?: { name: string; in: string; required: boolean; schema: unknown }[];
  requestBody?: { required: boolean; content: Record<string, { schema?: unknown }> };
  responses: Record<string, { description: string; content?: Record<string, { schema?: unknown }> }>;
}
export interface Description {
  openapi: string;
  info: { title: string; version: string };
  paths: Record<string, Record<string, DescribedCall>>;
}

export const description = {
  get: endpoint({
    method: 'get',
    path: '/api/openapi.json',
    role: 'look',
    says: 'This description',
    answer: Type.Unsafe<Description>(Type.Object({})),
  }),
};
