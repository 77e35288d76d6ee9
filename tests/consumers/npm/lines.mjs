// Breaks texts into lines in a browser, and tells how high a line is of itself.
// usage: lines.mjs CASES   (a JSON file: {"fonts": {NAME: FILE}, "cases": [{"text", "font", "width", "size"}]})
// prints a JSON list of {"lines": [...], "line": HEIGHT}
import {createRequire} from 'node:module';
import {readFileSync} from 'node:fs';
const {chromium} = createRequire(process.env.NOTARIA_NPM + '/package.json')('playwright-core');
const {fonts, cases} = JSON.parse(readFileSync(process.argv[2], 'utf8'));
const browser = await chromium.launch({timeout: 0, executablePath: '/usr/bin/chromium', headless: true, args: ['--no-sandbox', '--disable-dev-shm-usage', '--disable-gpu', '--disable-quic', '--no-first-run',
  '--disable-background-networking', '--disable-component-update', '--disable-sync', '--font-render-hinting=none']});
const tab = await browser.newPage();
tab.setDefaultTimeout(0);
await tab.route('**/*', route => {
  const name = new URL(route.request().url()).pathname.slice(1);
  if (fonts[name]) return route.fulfill({body: readFileSync(fonts[name]), contentType: 'font/ttf'});
  const faces = Object.keys(fonts).map(f => `@font-face { font-family: "${f}"; src: url("/${f}"); }`).join('\n');
  route.fulfill({body: `<!doctype html><meta charset="utf-8"><style>${faces}</style><body></body>`, contentType: 'text/html'});
});
await tab.goto('http://skerry.test/index.html');
for (const f of Object.keys(fonts)) await tab.evaluate(f => document.fonts.load(`16px "${f}"`), f);
const out = await tab.evaluate(cases => cases.map(c => {
  const p = document.createElement('div');
  p.style.cssText = `width: ${c.width}px; font: ${c.size}px "${c.font}"; text-rendering: geometricPrecision; white-space: pre-wrap; unicode-bidi: plaintext`;
  p.textContent = 'x';
  document.body.append(p);
  const line = p.getBoundingClientRect().height;
  p.textContent = c.text;
  const lines = [], range = document.createRange();
  let last = null;
  for (const s of new Intl.Segmenter('en', {granularity: 'grapheme'}).segment(c.text)) {
    range.setStart(p.firstChild, s.index);
    range.setEnd(p.firstChild, s.index + s.segment.length);
    const boxes = range.getClientRects();
    if (!boxes.length) {
      if (lines.length) lines[lines.length - 1] += s.segment; else lines.push(s.segment);
      continue;
    }
    const box = boxes[boxes.length - 1], middle = (box.top + box.bottom) / 2;
    if (last === null || middle > last + c.size * 0.6) { lines.push(''); last = middle; }
    lines[lines.length - 1] += s.segment;
  }
  p.remove();
  return {lines, line};
}), cases);
console.log(JSON.stringify(out));
await browser.close();
