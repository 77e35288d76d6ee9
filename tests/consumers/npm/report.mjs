// Judges a page that holds no program in a browser: prints one JSON object of what it found.
// usage: report.mjs FILE
import {start, open, contrast, landmarks, wider} from './tab.mjs';
const browser = await start();
const found = {console: [], requests: [], contrast: []};
for (const colorScheme of ['light', 'dark']) {
  const tab = await open(browser, process.argv[2], found, {colorScheme});
  found.contrast.push(await contrast(tab));
  found.wider = [...(found.wider ?? []), ...await wider(tab)];
  found.landmarks = await landmarks(tab, ['header', 'nav[aria-label]', 'main', 'footer', 'h1']);
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
