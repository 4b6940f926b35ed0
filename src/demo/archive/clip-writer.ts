// A short silent video as small cameras wrote it: Motion JPEG in an AVI (RIFF; the layout from memory, read by ExifTool
// in tests/reference).

const four = (value: number): Buffer => {
  const out = Buffer.alloc(4);
  out.writeUInt32LE(value);
  return out;
};
const words = (...values: number[]): Buffer => {
  const out = Buffer.alloc(values.length * 2);
  values.forEach((value, index) => out.writeUInt16LE(value, index * 2));
  return out;
};
const chunk = (name: string, body: Buffer): Buffer =>
  Buffer.concat([Buffer.from(name, 'latin1'), four(body.length), body, Buffer.alloc(body.length % 2)]);
const list = (name: string, ...parts: Buffer[]): Buffer =>
  chunk('LIST', Buffer.concat([Buffer.from(name, 'latin1'), ...parts]));

export function writeClip(
  frames: Buffer[],
  {
    width,
    height,
    perSecond,
    taken,
    maker,
    model,
  }: { width: number; height: number; perSecond: number; taken: Date; maker: string; model: string },
): Buffer {
  const largest = Math.max(...frames.map(({ length }) => length));
  const main = Buffer.concat(
    [1_000_000 / perSecond, largest * perSecond, 0, 0x10, frames.length, 0, 1, largest, width, height, 0, 0, 0, 0].map(
      (value) => four(Math.round(value)),
    ),
  );
  const stream = Buffer.concat([
    Buffer.from('vidsMJPG', 'latin1'),
    four(0),
    words(0, 0),
    four(0),
    four(1),
    four(perSecond),
    four(0),
    four(frames.length),
    four(largest),
    four(10_000),
    four(0),
    words(0, 0, width, height),
  ]);
  const format = Buffer.concat([
    four(40),
    four(width),
    four(height),
    words(1, 24),
    Buffer.from('MJPG', 'latin1'),
    four(width * height * 3),
    four(0),
    four(0),
    four(0),
    four(0),
  ]);
  const [day, month, date, year, time] = [
    taken.toUTCString().slice(0, 3),
    taken.toUTCString().slice(8, 11),
    taken.toUTCString().slice(5, 7),
    taken.toUTCString().slice(12, 16),
    taken.toUTCString().slice(17, 25),
  ];
  const written = chunk('IDIT', Buffer.from(`${day} ${month} ${date} ${time} ${year}\n\0`, 'latin1'));
  const about = list('INFO', chunk('ISFT', Buffer.from(`${maker} ${model}\0`, 'latin1')));
  const pictures = frames.map((frame) => chunk('00dc', frame));
  let at = 4;
  const index = Buffer.concat(
    frames.map((frame, number) => {
      const entry = Buffer.concat([Buffer.from('00dc', 'latin1'), four(0x10), four(at), four(frame.length)]);
      at += pictures[number]!.length;
      return entry;
    }),
  );
  return chunk(
    'RIFF',
    Buffer.concat([
      Buffer.from('AVI ', 'latin1'),
      list('hdrl', chunk('avih', main), list('strl', chunk('strh', stream), chunk('strf', format)), written),
      about,
      list('movi', ...pictures),
      chunk('idx1', index),
    ]),
  );
}
