// Judges a page of a family in depth, or of roles: types into it, chooses a style, sets an axis; prints one JSON
// object of what it found. usage: views.mjs FILE TYPED
import {start, open, contrast, fontsOf, reached, landmarks, wider} from './tab.mjs';
const [file, typed] = process.argv.slice(2);
const browser = await start();
const found = {console: [], requests: []};
const tab = await open(browser, file, found);
// Roles have colours of their own, which the page tells of where they are hard to read.
found.contrast = [await contrast(tab, '.panel .sample')];
await tab.click('#ground');
found.contrast.push(await contrast(tab, '.panel .sample'));
found.landmarks = await landmarks(tab, ['header', 'main', 'footer', 'form[aria-label]', 'h1']);
found.focus = await reached(tab, await tab.evaluate(() => document.querySelectorAll('textarea, select, button, input').length));
found.sections = await tab.evaluate(() => [...document.querySelectorAll('h2')].map(h => h.textContent));
await tab.fill('#text', typed);
const samples = '.sample:not([data-fixed], [data-own]:not([data-text]))';
found.samples = await tab.evaluate(s => [...new Set([...document.querySelectorAll(s)].map(e => e.textContent))], samples);
found.fonts = await fontsOf(tab, samples);
found.lacks = await tab.evaluate(() => [...document.querySelectorAll('[data-lacks]')].map(e => e.textContent));
found.boxes = await tab.evaluate(() => [...document.querySelectorAll('.sample mark')].map(e => e.className + e.textContent).filter((v, i, all) => all.indexOf(v) === i));
found.styles = await tab.evaluate(() => [...document.querySelectorAll('.panel .sample')].map(e => { const s = getComputedStyle(e); return [s.fontSize, s.lineHeight, s.letterSpacing, s.color, s.webkitTextStrokeWidth, s.textShadow].join('; '); }));
if (await tab.$('.letters')) {
  const grid = () => tab.evaluate(() => [...document.querySelectorAll('[data-count]')].map(e => e.textContent + ', ' + e.closest('section').querySelectorAll('.lacking').length + ' marked'));
  found.grid = await grid();
  found.gridFonts = [...new Set(await fontsOf(tab, '.letters:not(.coded) li:not(.lacking)', true))];
  found.coded = [...new Set(await fontsOf(tab, '.coded li:not(.lacking)', true))].sort(); // with their numbers in the page's own type
  if (await tab.$('#style')) {
    await tab.selectOption('#style', {index: (await tab.evaluate(() => document.getElementById('style').length)) - 1});
    found.chosen = [...new Set(await fontsOf(tab, '.steps .sample, .letters:not(.coded) li:not(.lacking)'))];
    found.gridChosen = await grid();
  }
  if (await tab.$('[data-axis]')) {
    const width = () => tab.evaluate(() => { const r = document.createRange(); r.selectNodeContents(document.querySelector('.steps .sample')); return r.getBoundingClientRect().width; });
    found.axis = [];
    for (const end of ['min', 'max']) {
      await tab.evaluate(end => { const r = document.querySelector('[data-axis]'); r.value = r[end]; r.dispatchEvent(new Event('input', {bubbles: true})); }, end);
      found.axis.push(await width());
    }
  }
}
found.wider = await wider(tab);
console.log(JSON.stringify(found));
await browser.close();
