// Draws a text on white with a shadow and an outline on a canvas, its baseline 320 pixels from the top and 40 from the
// left, 300 pixels large: smaller text is hinted and made darker. usage: styled.mjs FONT TEXT PICTURE SHADOW-X SHADOW-Y BLUR OUTLINE
import {readFileSync} from 'node:fs';
import {start, blank, shoot} from './tab.mjs';
const [font, text, picture, x, y, blur, outline] = process.argv.slice(2);
const browser = await start();
const tab = await blank(browser, {viewport: {width: 1280, height: 480}});
await tab.setContent('<style>body { margin: 0; } canvas { display: block; }</style><canvas width="1280" height="480"></canvas>');
await tab.evaluate(async ({data, text, x, y, blur, outline}) => {
  const face = await new FontFace('drawn', `url(data:font/ttf;base64,${data})`).load();
  document.fonts.add(face);
  const on = document.querySelector('canvas').getContext('2d');
  on.fillStyle = '#fff';
  on.fillRect(0, 0, 1280, 480);
  on.font = '300px drawn';
  on.fontKerning = 'normal';
  // The shadow is one of the letters alone, and lies below the outline.
  Object.assign(on, {shadowColor: 'rgba(10, 40, 160, 0.6)', shadowOffsetX: x, shadowOffsetY: y, shadowBlur: blur, fillStyle: '#c02010'});
  on.fillText(text, 40, 320);
  on.shadowColor = 'transparent';
  if (outline > 0) {
    Object.assign(on, {strokeStyle: '#108030', lineWidth: outline, lineJoin: 'round'});
    on.strokeText(text, 40, 320);
    on.fillText(text, 40, 320);
  }
}, {data: readFileSync(font).toString('base64'), text, x: +x, y: +y, blur: +blur, outline: +outline});
await shoot(tab, picture);
await browser.close();
