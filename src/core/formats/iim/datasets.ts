// IPTC-IIM 4.2, record 2 (application record). Limits are in bytes. Numbers and limits from the IIM specification, from
// memory; `tests/reference/registry.test.ts` compares them with ExifTool's and exiv2's tables.

export interface IimDataset {
  record: number;
  dataset: number;
  maxBytes: number;
  repeatable: boolean;
  /** Always as long as its limit, filled up with blanks that are not part of the value. */
  padded?: true;
  /** Read, but not written: the dataset wants more than the field holds. */
  readOnly?: true;
  /**
   * How the words stand in it, where it is not simply the words. `reference` is `IPTC:code:name:…`, `numbered` is
   * `NNN:words`.
   */
  notation?: 'reference' | 'numbered' | 'date';
  /** Of a `date`: the dataset that holds the time. */
  time?: IimDataset;
}

const one = (dataset: number, maxBytes: number): IimDataset => ({ record: 2, dataset, maxBytes, repeatable: false });
const many = (dataset: number, maxBytes: number): IimDataset => ({ record: 2, dataset, maxBytes, repeatable: true });

export const IIM = {
  objectAttribute: { ...many(4, 68), notation: 'numbered', readOnly: true },
  objectName: one(5, 64),
  urgency: one(10, 1),
  subjectReference: { ...many(12, 236), notation: 'reference' },
  category: one(15, 3),
  supplementalCategories: many(20, 32),
  keywords: many(25, 64),
  specialInstructions: one(40, 256),
  dateCreated: { ...one(55, 8), notation: 'date', time: one(60, 11) },
  digitalCreationDate: { ...one(62, 8), notation: 'date', time: one(63, 11) },
  byline: many(80, 32),
  bylineTitle: many(85, 32),
  city: one(90, 32),
  sublocation: one(92, 32),
  provinceState: one(95, 32),
  countryCode: { ...one(100, 3), padded: true },
  countryName: one(101, 64),
  transmissionReference: one(103, 32),
  headline: one(105, 256),
  credit: one(110, 32),
  source: one(115, 32),
  copyrightNotice: one(116, 128),
  caption: one(120, 2000),
  writer: many(122, 32),
} as const satisfies Record<string, IimDataset>;

/** Names of the datasets that have no field here, for the list of everything. */
export const IIM_NAMES: Readonly<Record<string, string>> = {
  '1:0': 'Model Version',
  '1:5': 'Destination',
  '1:20': 'File Format',
  '1:22': 'File Format Version',
  '1:30': 'Service Identifier',
  '1:40': 'Envelope Number',
  '1:50': 'Product ID',
  '1:60': 'Envelope Priority',
  '1:70': 'Date Sent',
  '1:80': 'Time Sent',
  '1:90': 'Coded Character Set',
  '1:100': 'Unique Object Name',
  '2:0': 'Record Version',
  '2:3': 'Object Type Reference',
  '2:4': 'Object Attribute Reference',
  '2:5': 'Object Name',
  '2:7': 'Edit Status',
  '2:8': 'Editorial Update',
  '2:10': 'Urgency',
  '2:12': 'Subject Reference',
  '2:15': 'Category',
  '2:20': 'Supplemental Category',
  '2:22': 'Fixture Identifier',
  '2:25': 'Keywords',
  '2:26': 'Content Location Code',
  '2:27': 'Content Location Name',
  '2:30': 'Release Date',
  '2:35': 'Release Time',
  '2:37': 'Expiration Date',
  '2:38': 'Expiration Time',
  '2:40': 'Special Instructions',
  '2:42': 'Action Advised',
  '2:45': 'Reference Service',
  '2:47': 'Reference Date',
  '2:50': 'Reference Number',
  '2:55': 'Date Created',
  '2:60': 'Time Created',
  '2:62': 'Digital Creation Date',
  '2:63': 'Digital Creation Time',
  '2:65': 'Originating Program',
  '2:70': 'Program Version',
  '2:75': 'Object Cycle',
  '2:80': 'By-line',
  '2:85': 'By-line Title',
  '2:90': 'City',
  '2:92': 'Sub-location',
  '2:95': 'Province/State',
  '2:100': 'Country Code',
  '2:101': 'Country Name',
  '2:103': 'Original Transmission Reference',
  '2:105': 'Headline',
  '2:110': 'Credit',
  '2:115': 'Source',
  '2:116': 'Copyright Notice',
  '2:118': 'Contact',
  '2:120': 'Caption/Abstract',
  '2:122': 'Writer/Editor',
  '2:125': 'Rasterized Caption',
  '2:130': 'Image Type',
  '2:131': 'Image Orientation',
  '2:135': 'Language Identifier',
};
