import { crc32, deflateSync } from "node:zlib";

type Colour = readonly [red: number, green: number, blue: number];

/** A PNG from a function that colours each pixel: pictures for the demo without a file that somebody drew. */
export function picture(width: number, height: number, colour: (x: number, y: number) => Colour): Uint8Array {
  const rows = Buffer.alloc(height * (1 + width * 3));
  for (let y = 0; y < height; y++) {
    for (let x = 0; x < width; x++) rows.set(colour(x, y), y * (1 + width * 3) + 1 + x * 3);
  }
  const head = Buffer.alloc(13);
  head.writeUInt32BE(width, 0);
  head.writeUInt32BE(height, 4);
  head.set([8, 2, 0, 0, 0], 8);
  const signature = Buffer.from([0x89, 0x50, 0x4e, 0x47, 0x0d, 0x0a, 0x1a, 0x0a]);
  return Buffer.concat([
    signature,
    chunk("IHDR", head),
    chunk("IDAT", deflateSync(rows)),
    chunk("IEND", Buffer.alloc(0)),
  ]);
}

function chunk(name: string, data: Buffer): Buffer {
  const body = Buffer.concat([Buffer.from(name, "latin1"), data]);
  const whole = Buffer.alloc(body.length + 8);
  whole.writeUInt32BE(data.length, 0);
  whole.set(body, 4);
  whole.writeUInt32BE(crc32(body), body.length + 4);
  return whole;
}

/** The tide over two days as a curve, with the surge of the wind on top of it if there is any. */
export function tideCurve(surge: number): Uint8Array {
  const level = (x: number) => 90 - 45 * Math.sin(x / 26) - surge * Math.max(0, Math.sin((x - 120) / 60)) * 30;
  return picture(360, 180, (x, y) => {
    if (Math.abs(y - level(x)) < 2) return [11, 97, 82];
    if (y > level(x)) return [203, 226, 232];
    return x % 60 === 0 || y % 45 === 0 ? [226, 220, 203] : [255, 254, 250];
  });
}
