// The tides of the week, as a line.
const heights = [2.1, 2.4, 2.8, 3.1, 3.0, 2.6, 2.2];

function setup() {
  createCanvas(640, 360);
}

function draw() {
  background('#dfe9ee');
  heights.forEach((metres, day) => {
    const x = 60 + day * 88;
    line(x, 300, x, 300 - metres * 60);
    text(metres.toFixed(1) + ' m', x, 320);
  });
  text('Tides of the week', 40, 60);
}
