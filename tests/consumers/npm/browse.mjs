// Shows pages in a browser and prints, for each role, what the browser made of it:
// CLASS WIDTH HEIGHT POSTSCRIPT-NAME CUSTOM. The files come from a folder; fonts are held
// back on request, so that what stands in for them shows.
// usage: browse.mjs FOLDER PAGE CLASSES [fonts|none|early] [PICTURE]
//   A script behind a stroke, fonts/cyrillic, is that of the text.
//   early: prints the addresses of the fonts that were asked for, in order, of all files that were not there, and other hosts
import {shoot} from './tab.mjs';
import {createRequire} from 'node:module';
import {readFileSync, existsSync} from 'node:fs';
import {join, extname} from 'node:path';
const {chromium} = createRequire(process.env.NOTARIA_NPM + '/package.json')('playwright-core');
const [folder, page, classes, mode = 'fonts', picture] = process.argv.slice(2);
const [fonts, script = 'latin'] = mode.split('/');
const text = {
  latin: 'The ferry leaves the pier at seven forty, and calls at every island on the way home',
  cyrillic: 'Паром отходит от причала в семь часов сорок минут и по пути домой заходит на каждый остров',
  greek: 'Το πλοίο φεύγει από την προβλήτα στις επτά και σαράντα και σταματά σε κάθε νησί',
  arabic: 'تغادر العبارة الرصيف في السابعة والأربعين وتتوقف عند كل جزيرة',
  hebrew: 'המעבורת יוצאת מהרציף בשבע וארבעים ועוצרת בכל אי בדרך הביתה',
  ligatures: 'office fjord flow affine waffle -> 3x9 ==> (A) first st ct Th',
  marks: 'Пари\u0301ж о\u0301тходит Łódź Đorđe a\u0328\u0301 e\u0301 ἄνθρωπος 07:40 → ½ ∑',
}[script];
const browser = await chromium.launch({timeout: 0, executablePath: '/usr/bin/chromium', headless: true, args: ['--no-sandbox', '--disable-dev-shm-usage', '--disable-gpu', '--disable-quic', '--no-first-run',
  '--disable-background-networking', '--disable-component-update', '--disable-sync', '--font-render-hinting=none']});
const tab = await browser.newPage({viewport: {width: 1280, height: 800}});
tab.setDefaultTimeout(0); // a busy machine is slow, not wrong
const types = {'.html': 'text/html', '.css': 'text/css', '.js': 'text/javascript', '.woff2': 'font/woff2', '.woff': 'font/woff'};
const asked = [], failed = [], outer = [];
await tab.route('**/*', route => {
  const path = decodeURIComponent(new URL(route.request().url()).pathname);
  const file = join(folder, path);
  if (path.includes('.woff')) asked.push(path);
  if (new URL(route.request().url()).host !== 'skerry.test') outer.push(new URL(route.request().url()).host);
  if (new URL(route.request().url()).host === 'skerry.test' && !existsSync(file) && !path.endsWith('favicon.ico')) failed.push(path);
  if (fonts === 'none' && path.includes('.woff') || !existsSync(file)) return route.fulfill({status: 404, body: ''});
  route.fulfill({body: readFileSync(file), contentType: types[extname(file)] || 'application/octet-stream'});
});
// Widths are not rounded to whole pixels, as on most screens of today.
const problems = [];
tab.on('console', m => { if (m.type() === 'error' && !m.text().includes('404')) problems.push(m.text()); });
await tab.goto('http://skerry.test/' + page);
const list = classes.split(',');
await tab.evaluate(([list, text, plain]) => {
  if (!plain) document.body.replaceChildren();
  for (const c of list) {
    const p = document.createElement('p');
    p.style.cssText = 'text-rendering: geometricPrecision; margin: 12px 0; white-space: nowrap; width: max-content';
    p.className = c;
    p.textContent = text;
    document.body.append(p);
  }
}, [list, text, !!picture && fonts === 'page']);
await tab.evaluate(() => document.fonts.ready);
await tab.waitForTimeout(200);
const devtools = await tab.context().newCDPSession(tab);
await devtools.send('DOM.enable');
await devtools.send('CSS.enable');
const {root} = await devtools.send('DOM.getDocument', {depth: -1});
for (const c of list) {
  const {nodeId} = await devtools.send('DOM.querySelector', {nodeId: root.nodeId, selector: 'p.' + CSSescape(c)});
  const box = await tab.evaluate(c => { const r = document.querySelector('p.' + CSS.escape(c)).getBoundingClientRect(); return [r.width, r.height]; }, c);
  const used = (await devtools.send('CSS.getPlatformFontsForNode', {nodeId})).fonts.sort((a, b) => b.glyphCount - a.glyphCount)[0] || {};
  const style = await tab.evaluate(c => { const s = getComputedStyle(document.querySelector('p.' + CSS.escape(c))); return [s.fontSize, s.fontWeight, s.fontStyle, s.lineHeight, s.letterSpacing, s.color, s.webkitTextStroke].join('|'); }, c);
  console.log(c, box[0].toFixed(2), box[1].toFixed(2), JSON.stringify(used.postScriptName || used.familyName || ''), used.isCustomFont, style);
}
if (fonts === 'early') {
  asked.forEach(a => console.log('asked', a));
  failed.forEach(a => console.log('failed', a));
  outer.forEach(a => console.log('outer', a));
}
problems.forEach(p => console.log('problem', p));
if (picture) await shoot(tab, picture);
await browser.close();
function CSSescape(s) { return s.replace(/[^\w-]/g, c => '\\' + c); }
