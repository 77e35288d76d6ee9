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
found.focus = await reached(tab, 12);
if (dark) await tab.click('#ground');

// What is typed changes every sample; filters leave out what does not fit.
await tab.fill('#text', typed);
found.samples = await tab.evaluate(() => [...document.querySelectorAll('.sample')].map(s => s.textContent));
found.lacks = await tab.evaluate(() => [...document.querySelectorAll('[data-lacks]')].filter(s => s.textContent).length);
// Sizes are a line each, with the width that the browser itself gives; a ground alone leaves the other out.
const widths = () => tab.evaluate(() => [...document.querySelectorAll('li:first-child .panel:first-child .line')].map(l => [l.querySelector('b').textContent, l.querySelector('i').textContent].join(': ')));
found.before = await widths();
await tab.fill('#sizes', '56, 11');
found.after = await widths();
await tab.fill('#sizes', '28, 16');
await tab.selectOption('#grounds', 'dark');
found.grounds = await tab.evaluate(() => [...document.querySelectorAll('li:first-child .panel')].filter(p => p.getClientRects().length).map(p => p.dataset.ground));
await tab.selectOption('#grounds', '');
found.role = await tab.evaluate(() => document.getElementById('role')?.options.length ?? 0);
if (found.role) {
  await tab.selectOption('#role', {label: 'heading'});
  found.worn = await tab.evaluate(() => { const s = getComputedStyle(document.querySelector('.sample')); return [s.fontSize, s.lineHeight, s.letterSpacing].join(' '); });
  await tab.selectOption('#role', '');
}
// What is kept is seen alone, and makes the command.
await tab.evaluate(() => [...document.querySelectorAll('[data-keep]')].slice(1, 3).forEach(k => k.click()));
await tab.check('#kept');
found.kept = await tab.evaluate(() => [...document.querySelectorAll('#faces > li')].filter(e => e.getClientRects().length).length);
found.take = await tab.textContent('#take');
await tab.uncheck('#kept');
await tab.check('#can');
found.count = await tab.textContent('#count');
found.shown = await tab.evaluate(() => [...document.querySelectorAll('#faces > li')].filter(e => e.getClientRects().length).length);
await tab.uncheck('#can');
found.all = await tab.textContent('#count');
found.wider = await wider(tab);
if (picture) {
  await tab.setViewportSize({width: +width, height: +height});
  await tab.evaluate(() => document.activeElement.blur());
  await shoot(tab, picture);
}
console.log(JSON.stringify(found));
await browser.close();
