// Runs a sketch of p5.js in a browser. The page's own p5.js, wherever it asks for it, is
// exchanged for that of a version. Prints what the expression gives, as JSON, then the
// problems of the console, then the font that the browser has for each family.
// usage: sketch.mjs FOLDER PAGE one|two EXPRESSION FAMILIES [PICTURE]
import {shoot} from './tab.mjs';
import {createRequire} from 'node:module';
import {readFileSync, existsSync} from 'node:fs';
import {join, extname} from 'node:path';
const {chromium} = createRequire(process.env.NOTARIA_NPM + '/package.json')('playwright-core');
const [folder, page, version, expression, families, picture] = process.argv.slice(2);
const browser = await chromium.launch({timeout: 0, executablePath: '/usr/bin/chromium', headless: true, args: ['--no-sandbox', '--disable-dev-shm-usage', '--disable-gpu', '--disable-quic', '--no-first-run',
  '--disable-background-networking', '--disable-component-update', '--disable-sync', '--font-render-hinting=none']});
const tab = await browser.newPage({viewport: {width: 1280, height: 800}});
tab.setDefaultTimeout(0); // a busy machine is slow, not wrong
const types = {'.html': 'text/html', '.css': 'text/css', '.js': 'text/javascript'};
await tab.route('**/*', route => {
  const path = decodeURIComponent(new URL(route.request().url()).pathname);
  if (/p5(\.esm)?(\.min)?\.js$/.test(path)) {
    const file = join(process.env.NOTARIA_NPM, 'node_modules/p5-' + version, 'lib', path.includes('esm') ? 'p5.esm.js' : 'p5.min.js');
    return route.fulfill({body: readFileSync(file), contentType: 'text/javascript'});
  }
  const file = join(folder, path);
  if (!existsSync(file)) return route.fulfill({status: 404, body: ''});
  route.fulfill({body: readFileSync(file), contentType: types[extname(file)] || 'application/octet-stream'});
});
const problems = [];
tab.on('console', m => { if (m.type() === 'error') problems.push(m.text()); });
tab.on('pageerror', e => problems.push('page: ' + e.message));
await tab.goto('http://skerry.test/' + page);
await tab.waitForFunction(() => window.frames_drawn > 2, null, {timeout: 120000}).catch(() => problems.push('the sketch never drew'));
console.log(JSON.stringify(await tab.evaluate(expression)));
problems.forEach(p => console.log('problem', p));
if (families) {
  const devtools = await tab.context().newCDPSession(tab);
  await devtools.send('DOM.enable');
  await devtools.send('CSS.enable');
  await tab.evaluate(list => list.forEach((f, i) => {
    const p = document.createElement('p');
    p.id = 'asked' + i;
    p.style.fontFamily = JSON.stringify(f);
    p.textContent = 'Skerry';
    document.body.append(p);
  }), families.split('|'));
  await tab.waitForTimeout(200);
  const {root} = await devtools.send('DOM.getDocument', {depth: -1});
  for (const [i, f] of families.split('|').entries()) {
    const {nodeId} = await devtools.send('DOM.querySelector', {nodeId: root.nodeId, selector: '#asked' + i});
    const used = (await devtools.send('CSS.getPlatformFontsForNode', {nodeId})).fonts[0] || {};
    console.log('font', f, used.postScriptName, used.isCustomFont);
  }
  await tab.evaluate(n => { for (let i = 0; i < n; i++) document.getElementById('asked' + i).remove(); }, families.split('|').length);
}
if (picture) await shoot(tab, picture);
await browser.close();
