// Draws each character of a text in a cell of a grid, black on white, its origin 16 pixels from the left and its
// baseline 100 from the top of 128. usage: cells.mjs FONT TEXT PICTURE [SETTINGS]
import {readFileSync} from 'node:fs';
import {start, blank, shoot} from './tab.mjs';
const [font, text, picture, settings = 'normal'] = process.argv.slice(2);
const browser = await start();
const letters = [...text], columns = 10, rows = Math.ceil(letters.length / columns);
const tab = await blank(browser, {viewport: {width: 128 * columns, height: 128 * rows}});
await tab.setContent(`<style>@font-face { font-family: drawn; src: url(data:font/ttf;base64,${readFileSync(font).toString('base64')}); }
body { margin: 0; background: #fff; color: #000; } svg { display: block; } text { font: 96px drawn; font-variation-settings: ${settings}; }</style>
<svg width="${128 * columns}" height="${128 * rows}">${letters.map((c, i) => `<text x="${128 * (i % columns) + 16}" y="${128 * Math.floor(i / columns) + 100}">&#${c.codePointAt(0)};</text>`).join('')}</svg>`);
await tab.evaluate(() => document.fonts.ready);
await shoot(tab, picture);
await browser.close();
