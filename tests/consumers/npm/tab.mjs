// What the judges of pages share: a browser, a page that is listened to, and what a reader cannot do without.
import {createRequire} from 'node:module';
import {pathToFileURL} from 'node:url';
const {chromium} = createRequire(process.env.NOTARIA_NPM + '/package.json')('playwright-core');

// Nothing is waited for by the clock: a busy machine is slow, not wrong.
export const start = () => chromium.launch({timeout: 0, executablePath: '/usr/bin/chromium', headless: true, args: ['--no-sandbox', '--disable-dev-shm-usage', '--disable-gpu', '--disable-quic', '--no-first-run',
  '--disable-background-networking', '--disable-component-update', '--disable-sync', '--font-render-hinting=none']});

export async function blank(browser, options = {}) {
  const tab = await browser.newPage({viewport: {width: 1280, height: 800}, ...options});
  tab.setDefaultTimeout(0);
  return tab;
}

// Opens a file; what it says in the console and asks for is put into found.
export async function open(browser, file, found, options = {}) {
  const tab = await blank(browser, options);
  tab.on('console', m => { if (m.type() === 'error' || m.type() === 'warning') found.console.push(m.text()); });
  tab.on('pageerror', e => found.console.push('page: ' + e.message));
  tab.on('request', r => { if (!r.url().startsWith('data:')) found.requests.push(r.url().replace(/.*\//, '')); });
  await tab.goto(pathToFileURL(file).href);
  await tab.evaluate(() => document.fonts.ready);
  return tab;
}

// Takes a picture. A browser that is not given the time to draw a frame says that it cannot, and is asked again: all else is an error.
export async function shoot(tab, picture) {
  for (let left = 9; ; left--) {
    try {
      return await tab.screenshot({path: picture});
    } catch (e) {
      if (left === 0 || !String(e).includes('Unable to capture screenshot')) throw e;
      await tab.waitForTimeout(500);
    }
  }
}

// The least contrast of a text with what is behind it (WCAG 2.2, 1.4.3); boxes of missing characters, pictures
// and what is left out do not count.
export const contrast = (tab, leftOut = '#none') => tab.evaluate(leftOut => {
  const light = c => { const [r, g, b] = c.match(/[\d.]+/g).map(Number).map(v => (v /= 255) <= 0.04045 ? v / 12.92 : ((v + 0.055) / 1.055) ** 2.4); return 0.2126 * r + 0.7152 * g + 0.0722 * b; };
  const ground = e => { for (; e; e = e.parentElement) { const c = getComputedStyle(e).backgroundColor; if (c !== 'rgba(0, 0, 0, 0)') return c; } return 'rgb(255, 255, 255)'; };
  let least = 99;
  for (const e of document.querySelectorAll('body *')) {
    if (![...e.childNodes].some(n => n.nodeType === 3 && n.textContent.trim()) || !e.getClientRects().length || ['SCRIPT', 'OPTION', 'MARK'].includes(e.tagName) || e.closest('svg, ' + leftOut)) continue;
    const [a, b] = [light(getComputedStyle(e).color), light(ground(e))];
    least = Math.min(least, (Math.max(a, b) + 0.05) / (Math.min(a, b) + 0.05));
  }
  return least;
}, leftOut);

// The fonts that elements are really drawn with, by the browser's own account. Boxes of missing characters hold
// letters of other fonts that are not seen: those fonts count where all is asked for.
export async function fontsOf(tab, selector, all) {
  const devtools = await tab.context().newCDPSession(tab);
  await devtools.send('DOM.enable');
  await devtools.send('CSS.enable');
  const {root} = await devtools.send('DOM.getDocument', {depth: -1});
  const {nodeIds} = await devtools.send('DOM.querySelectorAll', {nodeId: root.nodeId, selector});
  const out = [];
  for (const nodeId of nodeIds) {
    const {fonts} = await devtools.send('CSS.getPlatformFontsForNode', {nodeId});
    out.push(fonts.filter(f => all || f.isCustomFont).map(f => (f.isCustomFont ? '' : 'not of the page: ') + f.postScriptName).join('+'));
  }
  return out;
}

// The names of what the keyboard reaches, in the order in which it does.
export async function reached(tab, most) {
  await tab.reload();
  await tab.keyboard.press('Tab'); // from the page itself
  if (await tab.evaluate(() => document.activeElement === document.body)) await tab.keyboard.press('Tab');
  const out = [];
  for (let i = 0; i < most; i++) {
    if (i) await tab.keyboard.press('Tab');
    out.push(await tab.evaluate(() => { const e = document.activeElement; return (e.labels?.[0]?.firstChild?.nodeName === '#text' ? e.labels[0].firstChild.textContent : e.labels?.[0]?.textContent ?? e.textContent).trim() + (getComputedStyle(e).outlineStyle === 'none' ? ' (no focus ring)' : ''); }));
  }
  return out;
}

export const landmarks = (tab, list) => tab.evaluate(list => list.filter(s => document.querySelectorAll(s).length === 1), list);

// The widths, from a phone's to a large screen's, at which something is wider than the window.
export async function wider(tab) {
  const out = [];
  for (const width of [400, 1600]) {
    await tab.setViewportSize({width, height: 800});
    if (await tab.evaluate(() => document.documentElement.scrollWidth > innerWidth)) out.push(width);
  }
  return out;
}
