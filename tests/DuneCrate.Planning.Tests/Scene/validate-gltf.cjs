// Checks a glTF file with the Khronos validator. Usage: node validate-gltf.cjs FILE
const { readFileSync } = require('node:fs');
require('gltf-validator').validateBytes(new Uint8Array(readFileSync(process.argv[2]))).then(report => {
  const bad = report.issues.messages.filter(message => message.severity < 2);
  if (bad.length) { console.error(JSON.stringify(bad.slice(0, 5))); process.exit(1); }
});
