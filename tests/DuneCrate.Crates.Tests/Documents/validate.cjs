// Checks JSON documents against a JSON Schema (draft 2020-12) with ajv. Usage: node validate.cjs SCHEMA DOCUMENT…
const { readFileSync } = require('node:fs');
const Ajv = require('ajv/dist/2020').default;
const [schema, ...documents] = process.argv.slice(2).map(path => JSON.parse(readFileSync(path, 'utf8')));
const check = new Ajv({ allErrors: true, strict: true, strictRequired: false, allowUnionTypes: true }).compile(schema);
const wrong = documents.filter(document => !check(document));
if (wrong.length) { check(wrong[0]); console.error(JSON.stringify(check.errors.slice(0, 5))); process.exit(1); }
