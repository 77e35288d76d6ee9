// Parses a YAML file strictly (no double keys, no tabs) and prints it as JSON.
// usage: node yaml.mjs FILE
import { readFileSync } from "node:fs";
import { createRequire } from "node:module";
import path from "node:path";

const require = createRequire(path.join(process.env.NOTARIA_NPM, "package.json"));
const { parseDocument } = require("yaml");
const doc = parseDocument(readFileSync(process.argv[2], "utf8"), { strict: true, uniqueKeys: true });
for (const e of [...doc.errors, ...doc.warnings]) console.error(e.message);
if (doc.errors.length + doc.warnings.length) process.exit(1);
console.log(JSON.stringify(doc.toJS()));
