// The number painted in a canvas's picture (see the simulated camera's `strip`), read from the one
// line of pixels that shows it; null where the cells do not make sense.
(canvas) => {
  const strip = Math.max(8, Math.floor(canvas.height / 16));
  const y = canvas.height - Math.floor(strip / 2);
  const line = canvas.getContext("2d").getImageData(0, y, canvas.width, 1).data;
  const cells = Array.from({ length: 24 }, (_, i) =>
    line[4 * Math.floor(((i + 0.5) * canvas.width) / 24)] > 127 ? 1 : 0,
  );
  const bits = cells.slice(2, 22);
  const parity = bits.reduce((a, b) => a + b, 0) & 1;
  const whole = cells[0] === 1 && cells[1] === 0 && cells[23] === 1 && cells[22] === parity;
  return whole ? bits.reduce((n, bit) => 2 * n + bit, 0) : null;
}
