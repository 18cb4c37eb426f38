// Turns the API's description (OpenAPI, standard input) into TypeScript: "api.mjs types" the types,
// "api.mjs routes" the client's functions. They go to standard output.
import { compile } from 'json-schema-to-typescript';

let text = '';
for await (const chunk of process.stdin) text += chunk;
const { paths, components } = JSON.parse(text);
const banner = '// Code generated from the API\'s routes by "make types". DO NOT EDIT.';

async function types() {
  const schema = { title: 'Wire', $defs: components.schemas };
  return compile(JSON.parse(JSON.stringify(schema).replaceAll('#/components/schemas/', '#/$defs/')), 'Wire', {
    additionalProperties: false,
    bannerComment: banner,
    unreachableDefinitions: true,
    format: false,
  });
}

/** The name of the type that a body or an answer has; empty where it is a file. */
const typeOf = (content) => content?.['application/json']?.schema.$ref.split('/').at(-1) ?? '';

function routes() {
  const used = new Set();
  const functions = [];
  for (const [path, methods] of Object.entries(paths))
    for (const [method, op] of Object.entries(methods)) {
      const answer = typeOf(op.responses['200'].content);
      const body = typeOf(op.requestBody?.content);
      for (const t of [answer, body]) if (t) used.add(t);
      const inPath = (op.parameters ?? []).filter((p) => p.in === 'path').map((p) => p.name);
      const query = (op.parameters ?? []).filter((p) => p.in === 'query').map((p) => `'${p.name}'`);
      const args = inPath.map((name) => `${name}: Id`);
      if (op.requestBody) args.push(`body: ${body || 'BodyInit'}`);
      if (query.length > 0) args.push(`query: Query<${query.join(' | ')}> = {}`);
      let address = path.replace('/api/', '').replaceAll(/\{(\w+)\}/g, '${at($1)}');
      if (query.length > 0) address += '${asked(query)}';
      if (answer === '') {
        functions.push(`  ${op.operationId}: (${args.join(', ')}) => \`./api/${address}\`,`);
        continue;
      }
      const sent = !op.requestBody ? (method === 'get' ? 'undefined' : "'{}'") : body ? 'JSON.stringify(body)' : 'body';
      const kind = op.requestBody && !body ? 'application/octet-stream' : 'application/json';
      args.push('signal?: AbortSignal');
      functions.push(
        `  ${op.operationId}: (${args.join(', ')}) => call<${answer}>('${method.toUpperCase()}', \`${address}\`, ${sent}, '${kind}', signal),`,
      );
    }
  return `${banner}
import type { ${[...used].sort().join(', ')} } from './types.gen';

type Id = string | number;
/** What an address carries; what is empty is left out. */
export type Query<K extends string> = { [k in K]?: string | string[] };
export type Call = <T>(method: string, path: string, body: BodyInit | undefined, kind: string, signal?: AbortSignal) => Promise<T>;

const at = (id: Id) => encodeURIComponent(id);
const asked = (query: Query<string>) => {
  const said = Object.entries(query).flatMap(([k, v]) => (Array.isArray(v) ? v : [v ?? '']).filter((x) => x !== '').map((x): [string, string] => [k, x]));
  return said.length === 0 ? '' : \`?\${new URLSearchParams(said).toString()}\`;
};

/** A function for each route; where a file comes out, its address. */
export const routes = (call: Call) => ({
${functions.join('\n')}
});
`;
}

process.stdout.write(process.argv[2] === 'routes' ? routes() : await types());
