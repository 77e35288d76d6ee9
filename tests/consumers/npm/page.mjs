// Judges a page of HTML in a browser, as one who types into it, and one who cannot see or point: prints
// one JSON object of what it found. usage: page.mjs FILE TYPED [PICTURE [WIDTH HEIGHT [dark]]]
import {createRequire} from 'node:module';
import {pathToFileURL} from 'node:url';
const {chromium} = createRequire(process.env.NOTARIA_NPM + '/package.json')('playwright-core');
const [file, typed, picture, width = '1280', height = '800', dark] = process.argv.slice(2);
const browser = await chromium.launch({executablePath: '/usr/bin/chromium', headless: true, args: ['--no-sandbox', '--disable-gpu', '--disable-quic', '--no-first-run',
  '--disable-background-networking', '--disable-component-update', '--disable-sync', '--font-render-hinting=none']});
const tab = await browser.newPage({viewport: {width: +width, height: +height}});
const console_ = [], requests = [];
tab.on('console', m => { if (m.type() === 'error' || m.type() === 'warning') console_.push(m.text()); });
tab.on('pageerror', e => console_.push('page: ' + e.message));
tab.on('request', r => { if (!r.url().startsWith('data:')) requests.push(r.url().replace(/.*\//, '')); });
await tab.goto(pathToFileURL(file).href);
await tab.evaluate(() => document.fonts.ready);
const found = {console: console_, requests};

// The fonts that samples are really drawn with, by the browser's own account.
const devtools = await tab.context().newCDPSession(tab);
await devtools.send('DOM.enable');
await devtools.send('CSS.enable');
const {root} = await devtools.send('DOM.getDocument', {depth: -1});
const {nodeIds} = await devtools.send('DOM.querySelectorAll', {nodeId: root.nodeId, selector: '.sample'});
found.fonts = [];
for (const nodeId of nodeIds) {
  const {fonts} = await devtools.send('CSS.getPlatformFontsForNode', {nodeId});
  found.fonts.push(fonts.filter(f => f.isCustomFont).map(f => f.postScriptName).join('+'));
}

// Contrast of every text (but for the boxes of missing characters) with what is behind it (WCAG 2.2, 1.4.3), on both grounds.
const contrasts = () => tab.evaluate(() => {
  const light = c => { const [r, g, b] = c.match(/[\d.]+/g).map(Number).map(v => (v /= 255) <= 0.04045 ? v / 12.92 : ((v + 0.055) / 1.055) ** 2.4); return 0.2126 * r + 0.7152 * g + 0.0722 * b; };
  let least = 99;
  for (const e of document.querySelectorAll('body *')) {
    if (![...e.childNodes].some(n => n.nodeType === 3 && n.textContent.trim()) || !e.getClientRects().length || ['SCRIPT', 'OPTION', 'MARK'].includes(e.tagName)) continue;
    const [a, b] = [light(getComputedStyle(e).color), light(getComputedStyle(document.body).backgroundColor)];
    least = Math.min(least, (Math.max(a, b) + 0.05) / (Math.min(a, b) + 0.05));
  }
  return least;
});
found.contrast = [await contrasts()];
await tab.click('#ground');
found.contrast.push(await contrasts());
found.pressed = await tab.getAttribute('#ground', 'aria-pressed');
if (!dark) await tab.click('#ground');

// Landmarks, and the names of what the keyboard reaches, in the order in which it does.
found.landmarks = await tab.evaluate(() => ['header', 'main', 'footer', 'form[aria-label]', 'h1'].filter(s => document.querySelectorAll(s).length === 1));
await tab.evaluate(() => document.activeElement.blur());
found.focus = [];
await tab.keyboard.press('Tab'); // from the page itself
if (await tab.evaluate(() => document.activeElement === document.body)) await tab.keyboard.press('Tab');
for (let i = 0; i < 7; i++) {
  if (i) await tab.keyboard.press('Tab');
  found.focus.push(await tab.evaluate(() => { const e = document.activeElement; return (e.labels?.[0]?.firstChild?.nodeName === '#text' ? e.labels[0].firstChild.textContent : e.labels?.[0]?.textContent ?? e.textContent).trim() + (getComputedStyle(e).outlineStyle === 'none' ? ' (no focus ring)' : ''); }));
}

// What is typed changes every sample; filters leave out what does not fit.
await tab.fill('#text', typed);
found.samples = await tab.evaluate(() => [...document.querySelectorAll('.sample')].map(s => s.textContent));
found.lacks = await tab.evaluate(() => [...document.querySelectorAll('[data-lacks]')].filter(s => s.textContent).length);
const before = await tab.evaluate(() => document.querySelector('.sample').getBoundingClientRect().height);
await tab.evaluate(() => { const r = document.getElementById('size'); r.value = 90; r.dispatchEvent(new Event('input', {bubbles: true})); });
found.larger = await tab.evaluate(b => document.querySelector('.sample').getBoundingClientRect().height > b, before);
await tab.check('#can');
found.count = await tab.textContent('#count');
found.shown = await tab.evaluate(() => [...document.querySelectorAll('#faces > li')].filter(e => e.getClientRects().length).length);
await tab.uncheck('#can');
found.all = await tab.textContent('#count');

// Nothing is wider than the window, from a phone's to a large screen's.
found.wider = [];
for (const w of [400, 1600]) {
  await tab.setViewportSize({width: w, height: 800});
  if (await tab.evaluate(() => document.documentElement.scrollWidth > innerWidth)) found.wider.push(w);
}
if (picture) {
  await tab.setViewportSize({width: +width, height: +height});
  await tab.evaluate(() => { const r = document.getElementById('size'); r.value = 40; r.dispatchEvent(new Event('input', {bubbles: true})); document.activeElement.blur(); });
  await tab.screenshot({path: picture});
}
console.log(JSON.stringify(found));
await browser.close();
