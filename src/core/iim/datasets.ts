// IPTC-IIM 4.2, record 2 (application record): the datasets read here. Limits are in bytes.
// Numbers and limits from the IIM specification; `reference/registry.test.ts` compares them with ExifTool's tables.

export interface IimDataset {
  record: number;
  dataset: number;
  maxBytes: number;
  repeatable: boolean;
  /** Always as long as its limit, filled up with blanks that are not part of the value. */
  padded?: true;
}

const one = (dataset: number, maxBytes: number): IimDataset => ({ record: 2, dataset, maxBytes, repeatable: false });
const many = (dataset: number, maxBytes: number): IimDataset => ({ record: 2, dataset, maxBytes, repeatable: true });

export const IIM = {
  objectName: one(5, 64),
  keywords: many(25, 64),
  specialInstructions: one(40, 256),
  byline: many(80, 32),
  city: one(90, 32),
  sublocation: one(92, 32),
  provinceState: one(95, 32),
  countryCode: { ...one(100, 3), padded: true },
  countryName: one(101, 64),
  headline: one(105, 256),
  credit: one(110, 32),
  source: one(115, 32),
  copyrightNotice: one(116, 128),
  caption: one(120, 2000),
} as const;
