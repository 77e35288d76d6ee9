// Reads a style sheet strictly: any error ends with exit 1. Prints each declaration as
// SELECTOR PROPERTY VALUE, and those of @font-face with the number of the rule.
// usage: css.mjs FILE
import {readFileSync} from 'node:fs';
import {createRequire} from 'node:module';
const css = createRequire(process.env.NOTARIA_NPM + '/package.json')('css-tree');
let bad = 0;
const tree = css.parse(readFileSync(process.argv[2], 'utf8'), {parseValue: true, onParseError(e) { console.error(e.message, e.line, e.column); bad = 1; }});
let faces = 0;
css.walk(tree, {visit: 'Rule', enter(rule) { print(css.generate(rule.prelude), rule.block); }});
css.walk(tree, {visit: 'Atrule', enter(rule) { if (rule.name === 'font-face') print('@font-face ' + faces++, rule.block); }});
css.walk(tree, {visit: 'Raw', enter(raw) { console.error('cannot read', css.generate(raw)); bad = 1; }});
function print(name, block) {
  block.children.forEach(d => {
    const value = d.value.children.toArray().length === 1 && d.value.children.first;
    console.log(name, d.property, value && (value.type === 'String' || value.type === 'Url') ? value.value : css.generate(d.value));
  });
}
process.exit(bad);
