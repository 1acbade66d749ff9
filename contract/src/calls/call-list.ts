import type * as yup from 'yup';
import type { Typed } from '../fields.js';
import { CALL_NAMES, callOf, partsOf, type CallName } from './calls.js';

/** Fields of an object as they are written in a sentence: `{name, note?}`, a list's as `[{…}]`. */
function shapeOf(schema: Typed | string | undefined): string {
  if (schema === undefined) return '';
  if (typeof schema === 'string') return schema === 'binary' ? 'bytes' : schema;
  const { type, fields, innerType } = (schema as unknown as yup.AnySchema).describe({}) as {
    readonly type: string;
    readonly fields?: Readonly<Record<string, { readonly optional?: boolean }>>;
    readonly innerType?: unknown;
  };
  if (type === 'array') {
    const inner = (schema as unknown as { innerType?: Typed }).innerType;
    return innerType && inner ? `[${shapeOf(inner)}]` : '[]';
  }
  return fields
    ? `{${Object.entries(fields)
        .map(([name, { optional }]) => (optional ? `${name}?` : name))
        .join(', ')}}`
    : type;
}

const capital = (text: string): string => text[0].toUpperCase() + text.slice(1);

function rowOf(name: CallName): string {
  const { summary, about, query, body, answer, status, problems = [], ifMatch, named } = callOf(name);
  const { method, path } = partsOf(name);
  const address = path + (query ? `?${Object.keys(query).join('&')}` : '');
  const given = [shapeOf(body), named ? '`X-Filename`' : '', ifMatch ? '`If-Match`' : ''].filter(Boolean);
  const answered = [String(status ?? (answer ? 200 : 204)), shapeOf(answer)].filter(Boolean).join(' ');
  const cells = [
    `\`${method.toUpperCase()} ${address}\``,
    capital(about ?? summary),
    given.map((one) => (one.startsWith('`') ? one : `\`${one}\``)).join(', '),
    `\`${answered}\`${problems.length ? `; ${problems.join(', ')}` : ''}`,
  ];
  return `| ${cells.map((cell) => cell.replaceAll('|', '\\|')).join(' | ')} |`;
}

/** All calls as the table of docs/api.md. */
export const callList = (): string =>
  ['| call | what it does | it is given | it answers |', '|---|---|---|---|', ...CALL_NAMES.map(rowOf)].join('\n');
