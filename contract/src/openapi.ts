import { convertSchema } from '@sodaru/yup-to-json-schema';
import type * as yup from 'yup';
import { CALL_NAMES, callOf, partsOf, type CallName } from './calls/calls.js';
import type { Typed } from './fields.js';

type Meta = {
  readonly anyOf?: readonly Typed[];
  readonly values?: Typed;
  readonly items?: Typed;
};

type Converters = NonNullable<NonNullable<Parameters<typeof convertSchema>[1]>['converters']>;

type Field = yup.SchemaDescription & { readonly type: keyof Converters };

/** JSON Schema of a Yup schema. What Yup has no word for is told in its `meta`. */
const schemaJson = (schema: Typed): object =>
  convertSchema(schema as unknown as yup.AnySchema, {
    converters: {
      object: ({ meta, fields }: yup.SchemaObjectDescription, converters: Converters) => {
        const { anyOf } = (meta ?? {}) as Meta;
        if (anyOf) return { anyOf: anyOf.map(schemaJson) };
        const all = Object.entries(fields) as [string, Field][];
        return {
          type: 'object',
          properties: Object.fromEntries(all.map(([name, field]) => [name, converters[field.type](field, converters)])),
          required: all.filter(([, field]) => !field.optional).map(([name]) => name),
        };
      },
      mixed: ({ meta }: yup.SchemaDescription) => {
        const { values, items } = (meta ?? {}) as Meta;
        if (values) return { type: 'object', additionalProperties: schemaJson(values) };
        return items ? { type: 'array', items: schemaJson(items) } : {};
      },
    } as unknown as Converters,
  });

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
const bytes = { content: { 'application/octet-stream': { schema: { type: 'string', format: 'binary' } } } };

const content = (of: Typed | 'binary' | 'events' | undefined): object =>
  of === undefined
    ? {}
    : of === 'binary'
      ? bytes
      : of === 'events'
        ? { content: { 'text/event-stream': { schema: { type: 'string' } } } }
        : json(schemaJson(of));

const parameter = (name: string, where: 'path' | 'query' | 'header', required: boolean, schema: object) => ({
  name,
  in: where,
  required,
  schema,
});

function operation(name: CallName): object {
  const { summary, about, query = {}, ifMatch, named, body, answer, status, problems = [], who, keeps } = callOf(name);
  return {
    operationId: name,
    summary,
    ...(about ? { description: about } : {}),
    ...(who === 'anybody' ? { security: [] } : {}),
    parameters: [
      ...[...name.matchAll(/\{(\w+)\}/g)].map(([, hole]) => parameter(hole, 'path', true, { type: 'string' })),
      ...Object.entries(query).map(([field, schema]) =>
        parameter(field, 'query', false, schemaJson(schema as unknown as Typed)),
      ),
      ...(ifMatch ? [parameter('If-Match', 'header', true, { type: 'string' })] : []),
      ...(named ? [parameter('X-Filename', 'header', false, { type: 'string' })] : []),
    ],
    ...(body ? { requestBody: { required: true, ...content(body) } } : {}),
    responses: {
      [status ?? (answer ? 200 : 204)]: { description: summary, ...content(answer) },
      ...Object.fromEntries(
        [...problems, ...(keeps && !problems.includes(507) ? [507] : [])].map((one) => [
          one,
          {
            description: 'What happened, what is safe and what to do',
            content: { 'application/problem+json': { schema: { $ref: '#/components/schemas/Problem' } } },
          },
        ]),
      ),
    },
  };
}

export interface OpenApi {
  readonly openapi: string;
  readonly info: object;
  readonly paths: Readonly<Record<string, Readonly<Record<string, object>>>>;
  readonly components: object;
}

/** OpenAPI 3.1 description of every call. */
export function openApi(): OpenApi {
  const paths: Record<string, Record<string, object>> = {};
  for (const name of CALL_NAMES) {
    const { method, path } = partsOf(name);
    (paths[path] ??= {})[method] = operation(name);
  }
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
