// Judges a page of faces side by side in a browser, as one who types into it, and one who cannot see or
// point: prints one JSON object of what it found. usage: page.mjs FILE TYPED [PICTURE [WIDTH HEIGHT [dark]]]
import {start, open, contrast, fontsOf, reached, landmarks, wider, shoot} from './tab.mjs';
const [file, typed, picture, width = '1280', height = '800', dark] = process.argv.slice(2);
const browser = await start();
const found = {console: [], requests: []};
const tab = await open(browser, file, found, {viewport: {width: +width, height: +height}});
found.fonts = await fontsOf(tab, '.sample');
found.contrast = [await contrast(tab)];
await tab.click('#ground');
found.contrast.push(await contrast(tab));
found.pressed = await tab.getAttribute('#ground', 'aria-pressed');
found.landmarks = await landmarks(tab, ['header', 'main', 'footer', 'form[aria-label]', 'h1']);
found.focus = await reached(tab, 7);
if (dark) await tab.click('#ground');

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
found.wider = await wider(tab);
if (picture) {
  await tab.setViewportSize({width: +width, height: +height});
  await tab.evaluate(() => { const r = document.getElementById('size'); r.value = 40; r.dispatchEvent(new Event('input', {bubbles: true})); document.activeElement.blur(); });
  await shoot(tab, picture);
}
console.log(JSON.stringify(found));
await browser.close();
