// Reads fonts as Espruino does: one stream of bits, column by column, each from the top. The
// arguments are the files; for each the characters' columns are printed.
"use strict";
const fs = require("fs");
const vm = require("vm");

for (const file of process.argv.slice(2)) {
  const world = { atob: (s) => Buffer.from(s, "base64").toString("latin1"), Graphics: function () {} };
  vm.createContext(world);
  vm.runInContext(fs.readFileSync(file, "utf8"), world, { filename: file });
  const methods = Object.keys(world.Graphics.prototype);
  if (methods.length !== 1 || !methods[0].startsWith("setFont")) throw new Error(file + ": " + methods);
  let font = null;
  const g = new world.Graphics();
  g.setFontCustom = function (bitmap, first, widths, height) {
    font = { bitmap, first, widths, height: height & 0xffff, bpp: height >> 16 || 1 };
    return this;
  };
  if (g[methods[0]]() !== g) throw new Error(file + ": the method does not return the graphics");
  const byte = (i) => font.bitmap.charCodeAt(i) || 0;
  const width = (c) => (typeof font.widths === "number" ? font.widths : font.widths.charCodeAt(c - font.first));
  const count = typeof font.widths === "number" ? 256 : font.widths.length;
  let at = 0;
  for (let c = font.first; c < font.first + count && at + width(c) * font.height * font.bpp <= font.bitmap.length * 8; c++) {
    const columns = [];
    for (let x = 0; x < width(c); x++) {
      let column = "";
      for (let y = 0; y < font.height; y++) {
        let v = 0;
        for (let b = 0; b < font.bpp; b++, at++) v = (v << 1) | ((byte(at >> 3) >> (7 - (at & 7))) & 1);
        column += v.toString(16);
      }
      columns.push(column);
    }
    if (columns.length) console.log(c.toString(16), columns.join(" "));
  }
}
