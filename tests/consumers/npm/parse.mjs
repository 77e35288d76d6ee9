// Parses source files by their grammar and prints every ERROR or MISSING node.
// usage: node parse.mjs swift|kotlin|dart FILE...
import { readFileSync } from "node:fs";
import { spawn } from "node:child_process";
import { createRequire } from "node:module";
import path from "node:path";

const home = process.env.NOTARIA_NPM;
const require = createRequire(path.join(home, "package.json"));
const { Parser, Language } = await import(require.resolve("web-tree-sitter"));
const grammars = {
  swift: "@repomix/tree-sitter-wasms/out/tree-sitter-swift.wasm",
  dart: "@repomix/tree-sitter-wasms/out/tree-sitter-dart.wasm",
  kotlin: "@tree-sitter-grammars/tree-sitter-kotlin/tree-sitter-kotlin.wasm",
};
const [lang, ...files] = process.argv.slice(2);
if (files.length > 1) {
  // A process for each: Swift's scanner keeps what it saw in the file before.
  const codes = await Promise.all(
    files.map((f) => new Promise((done) => spawn(process.execPath, [process.argv[1], lang, f], { stdio: "inherit" }).on("close", done))),
  );
  process.exit(codes.some((c) => c !== 0) ? 1 : 0);
}
await Parser.init();
let bad = 0;
for (const file of files) {
  const parser = new Parser();
  parser.setLanguage(await Language.load(path.join(home, "node_modules", grammars[lang])));
  const root = parser.parse(readFileSync(file, "utf8")).rootNode;
  const walk = (n) => {
    if (n.isError || n.isMissing) {
      bad++;
      console.log(`${path.basename(file)}:${n.startPosition.row + 1}: ${n.isMissing ? "MISSING" : "ERROR"} ${JSON.stringify(n.text.slice(0, 60))}`);
    }
    for (let i = 0; i < n.childCount; i++) walk(n.child(i));
  };
  walk(root);
  if (root.hasError && bad === 0) {
    bad++;
    console.log(`${file}: hasError`);
  }
}
process.exit(bad ? 1 : 0);
