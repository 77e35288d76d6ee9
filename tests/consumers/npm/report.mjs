// Judges a page that holds no program in a browser: prints one JSON object of what it found.
// usage: report.mjs FILE
import {createRequire} from 'node:module';
import {pathToFileURL} from 'node:url';
const {chromium} = createRequire(process.env.NOTARIA_NPM + '/package.json')('playwright-core');
const browser = await chromium.launch({executablePath: '/usr/bin/chromium', headless: true, args: ['--no-sandbox', '--disable-gpu', '--disable-quic', '--no-first-run',
  '--disable-background-networking', '--disable-component-update', '--disable-sync']});
const found = {console: [], requests: [], contrast: [], wider: []};
for (const colorScheme of ['light', 'dark']) {
  const tab = await browser.newPage({viewport: {width: 1280, height: 800}, colorScheme});
  tab.on('console', m => { if (m.type() === 'error' || m.type() === 'warning') found.console.push(m.text()); });
  tab.on('request', r => { if (!r.url().startsWith('data:')) found.requests.push(r.url().replace(/.*\//, '')); });
  await tab.goto(pathToFileURL(process.argv[2]).href);
  await tab.evaluate(() => document.fonts.ready);
  // Contrast of every text with the page (WCAG 2.2, 1.4.3).
  found.contrast.push(await tab.evaluate(() => {
    const light = c => { const [r, g, b] = c.match(/[\d.]+/g).map(Number).map(v => (v /= 255) <= 0.04045 ? v / 12.92 : ((v + 0.055) / 1.055) ** 2.4); return 0.2126 * r + 0.7152 * g + 0.0722 * b; };
    const ground = light(getComputedStyle(document.body).backgroundColor);
    return Math.min(...[...document.querySelectorAll('body *')].filter(e => [...e.childNodes].some(n => n.nodeType === 3 && n.textContent.trim()) && e.getClientRects().length && !e.closest('svg'))
      .map(e => light(getComputedStyle(e).color)).map(l => (Math.max(l, ground) + 0.05) / (Math.min(l, ground) + 0.05)));
  }));
  for (const width of [400, 1600]) {
    await tab.setViewportSize({width, height: 800});
    if (await tab.evaluate(() => document.documentElement.scrollWidth > innerWidth)) found.wider.push(width);
  }
  found.landmarks = await tab.evaluate(() => ['header', 'nav[aria-label]', 'main', 'footer', 'h1'].filter(s => document.querySelectorAll(s).length === 1));
  found.sections = await tab.evaluate(() => [...document.querySelectorAll('section')].map(s => document.getElementById(s.getAttribute('aria-labelledby')).textContent));
  found.dead = await tab.evaluate(() => [...document.querySelectorAll('a[href^="#"]')].filter(a => !document.querySelector(a.getAttribute('href'))).length);
  await tab.keyboard.press('Tab');
  if (await tab.evaluate(() => document.activeElement === document.body)) await tab.keyboard.press('Tab');
  found.first = await tab.evaluate(() => document.activeElement.textContent);
  found.pictures = await tab.evaluate(() => [...document.querySelectorAll('svg')].filter(s => s.querySelector('title').textContent && s.getBoundingClientRect().width > 20).length);
  await tab.close();
}
console.log(JSON.stringify(found));
await browser.close();
