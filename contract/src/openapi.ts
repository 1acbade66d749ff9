import { convertSchema } from '@sodaru/yup-to-json-schema';
import type { AnySchema } from 'yup';
import { ENDPOINTS, type Endpoint } from './endpoints.js';

const problem = {
  type: 'object',
  required: ['type', 'title', 'status', 'detail', 'code'],
  properties: {
    type: { type: 'string' },
    title: { type: 'string' },
    status: { type: 'integer' },
    detail: { type: 'string' },
    code: { type: 'string' },
    fields: { type: 'object', additionalProperties: { type: 'string' } },
  },
};

const json = (schema: object) => ({ content: { 'application/json': { schema } } });

function answerContent({ answer, list }: Endpoint): object {
  if (!answer) return {};
  if (answer === 'binary')
    return { content: { 'application/octet-stream': { schema: { type: 'string', format: 'binary' } } } };
  if (answer === 'events') return { content: { 'text/event-stream': { schema: { type: 'string' } } } };
  if (answer === 'json') return json({});
  const schema = convertSchema(answer);
  return json(list ? { type: 'array', items: schema } : schema);
}

function bodyOf(body: AnySchema | 'binary'): object {
  return body === 'binary'
    ? { required: true, content: { 'application/octet-stream': { schema: { type: 'string', format: 'binary' } } } }
    : { required: true, ...json(convertSchema(body)) };
}

function operation(endpoint: Endpoint): object {
  const path = [...endpoint.path.matchAll(/\{(\w+)\}/g)].map(([, name]) => ({
    name,
    in: 'path',
    required: true,
    schema: { type: 'string' },
  }));
  const query = (endpoint.query ?? []).map((name) => ({
    name,
    in: 'query',
    required: false,
    schema: { type: 'string' },
  }));
  const headers = (endpoint.headers ?? []).map((name) => ({
    name,
    in: 'header',
    required: name === 'If-Match',
    schema: { type: 'string' },
  }));
  return {
    summary: endpoint.summary,
    parameters: [...path, ...query, ...headers],
    ...(endpoint.body ? { requestBody: bodyOf(endpoint.body) } : {}),
    responses: {
      [endpoint.status]: { description: endpoint.summary, ...answerContent(endpoint) },
      ...Object.fromEntries(
        endpoint.problems.map((status) => [
          status,
          {
            description: 'What happened, what is safe and what to do',
            content: { 'application/problem+json': { schema: { $ref: '#/components/schemas/Problem' } } },
          },
        ]),
      ),
    },
  };
}

/** OpenAPI 3.1 description of every call. */
export function openApi(): object {
  const paths: Record<string, Record<string, object>> = {};
  for (const endpoint of ENDPOINTS) (paths[endpoint.path] ??= {})[endpoint.method] = operation(endpoint);
  return {
    openapi: '3.1.0',
    info: {
      title: 'Kettle Sheet',
      version: '1',
      description: 'Sizes artwork to what each channel demands, makes print files and product pictures.',
    },
    paths,
    components: { schemas: { Problem: problem } },
  };
}
