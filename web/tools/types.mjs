// Turns the API's JSON Schema (standard input) into TypeScript types (standard output).
import { compile } from 'json-schema-to-typescript';

let text = '';
for await (const chunk of process.stdin) text += chunk;
const types = await compile(JSON.parse(text), 'Wire', {
  additionalProperties: false,
  bannerComment: '// Code generated from the Go wire structs by "make types". DO NOT EDIT.',
  unreachableDefinitions: true,
  format: false,
});
process.stdout.write(types);
