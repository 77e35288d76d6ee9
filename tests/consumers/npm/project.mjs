// Parses a project.pbxproj, follows every id, and prints as JSON which files are
// in which phase of which target. usage: node project.mjs project.pbxproj
import { createRequire } from "node:module";
import path from "node:path";

const require = createRequire(path.join(process.env.NOTARIA_NPM, "package.json"));
const xcode = require("xcode");
const project = xcode.project(process.argv[2]);
project.parseSync();
const bare = (s) => (s ?? "").replace(/^"(.*)"$/, "$1");
const sections = project.hash.project.objects;
const objects = {};
for (const [isa, section] of Object.entries(sections)) {
  for (const [id, o] of Object.entries(section)) {
    if (id.endsWith("_comment")) continue;
    if (objects[id]) throw new Error(`twice: ${id}`);
    if (bare(o.isa) !== isa) throw new Error(`${id}: isa ${o.isa} in section ${isa}`);
    objects[id] = o;
  }
}
const dangling = [];
const ref = (from, id) => {
  if (id !== undefined && !objects[id]) dangling.push(`${from} -> ${id}`);
};
const lists = ["children", "files", "buildPhases", "buildConfigurations", "targets", "exceptions", "fileSystemSynchronizedGroups", "dependencies"];
const singles = ["fileRef", "productRef", "mainGroup", "productRefGroup", "buildConfigurationList", "productReference", "target", "targetProxy"];
for (const [id, o] of Object.entries(objects)) {
  for (const key of lists) for (const e of Array.isArray(o[key]) ? o[key] : []) ref(`${id}.${key}`, e.value ?? e);
  for (const key of singles) ref(`${id}.${key}`, o[key]);
}
const grouped = new Set(Object.values(objects).flatMap((o) => (o.children ?? []).map((c) => c.value)));
const targets = {};
for (const o of Object.values(objects)) {
  if (o.isa !== "PBXNativeTarget") continue;
  const phases = {};
  for (const p of o.buildPhases) {
    const phase = objects[p.value];
    phases[phase.isa] = (phase.files ?? []).map((f) => {
      const built = objects[f.value];
      const file = objects[built.fileRef ?? built.productRef]; // a package's product is no file
      return bare(file.path ?? file.name ?? file.productName);
    });
  }
  targets[bare(o.name)] = phases;
}
const ungrouped = Object.entries(objects).filter(([id, o]) => o.isa === "PBXFileReference" && !grouped.has(id)).map(([, o]) => bare(o.path));
// What folders that are taken in as they are give up, or hold back: FOLDER > TARGET.
const exceptions = {};
for (const o of Object.values(objects)) {
  for (const x of o.exceptions ?? []) {
    const set = objects[x.value];
    exceptions[`${bare(o.path)} > ${bare(objects[set.target].name)}`] = set.membershipExceptions.map((e) => bare(e.value ?? e));
  }
}
console.log(JSON.stringify({ exceptions, dangling, ungrouped, targets, same: project.writeSync() === require("node:fs").readFileSync(process.argv[2], "utf8") }));
