// The EXIF 2.32 and TIFF 6.0 tags this application reads, by directory. Numbers from the EXIF 2.32 tables (CIPA DC-008).

export const MAIN = {
  subfileType: 0x00fe,
  imageWidth: 0x0100,
  imageLength: 0x0101,
  compression: 0x0103,
  imageDescription: 0x010e,
  make: 0x010f,
  model: 0x0110,
  stripOffsets: 0x0111,
  orientation: 0x0112,
  stripByteCounts: 0x0117,
  artist: 0x013b,
  jpegOffset: 0x0201,
  jpegLength: 0x0202,
  xmp: 0x02bc,
  copyright: 0x8298,
  iim: 0x83bb,
  photoshop: 0x8649,
} as const;

export const EXIF = {
  exposureTime: 0x829a,
  fNumber: 0x829d,
  iso: 0x8827,
  dateTimeOriginal: 0x9003,
  offsetTimeOriginal: 0x9011,
  exposureBias: 0x9204,
  flash: 0x9209,
  focalLength: 0x920a,
  subSecTimeOriginal: 0x9291,
  pixelWidth: 0xa002,
  pixelHeight: 0xa003,
  focalLength35mm: 0xa405,
  bodySerial: 0xa431,
  lensModel: 0xa434,
} as const;

export const GPS = { latRef: 1, lat: 2, lonRef: 3, lon: 4, altitudeRef: 5, altitude: 6 } as const;
