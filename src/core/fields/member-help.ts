// One sentence, and an example where it helps, for every member of a structure. In our own words, after what the IPTC
// Photo Metadata Standard 2023.1, PLUS LDF 1.2 and the MWG guidelines 2.0 say of it (from memory).

import type { StructureName } from './structures';

const NAME_AND_ID = (who: string) => ({
  name: `The name of ${who}.`,
  identifier: `A web address or number that stands for ${who} and for nobody else.`,
});
const ENCODING = 'How the text is written, as a media type. Example: application/xml';
const LANGUAGE = 'Which rights language it is in, by its web address.';
const ADDRESS = {
  city: 'City, town or village of the address.',
  region: 'Province or state of the address.',
  postalCode: 'Postal code. Example: FO-700',
  country: 'Country of the address, by its full name.',
  web: 'A web address. Example: https://harbours.example',
};
const MAIL = 'One or more addresses, parted by commas. Example: desk@harbours.example';

export const MEMBER_HELP: Readonly<Record<StructureName, Readonly<Record<string, string>>>> = {
  contact: {
    ...ADDRESS,
    address: 'Street and number, or a post box. Example: Slippurin 4',
    phone: 'Telephone with the code of the country. Example: +298 00 00 00',
    email: MAIL,
  },
  location: {
    name: 'The full name of the place. Example: the old slip at Klaksvík',
    identifier: 'Web addresses that stand for this place in a gazetteer.',
    sublocation: 'The spot within the city or region. Example: the old slip',
    city: 'City, town or village.',
    province: 'Region within the country. Example: Norðoyar',
    country: 'The country by its full name.',
    countryCode: 'Two or three letters, ISO 3166. Example: FO or FRO',
    worldRegion: 'Part of the world. Example: Europe',
    lat: 'Latitude in degrees. Example: 62.2270',
    lon: 'Longitude in degrees, west of Greenwich with a minus. Example: -6.5890',
    altitude: 'Height in metres.',
    altitudeRef: '1 where the height is meant below the level of the sea, else 0.',
  },
  person: {
    ...NAME_AND_ID('the person'),
    description: 'Who this is, or what tells the person in the picture. Example: harbour master, at the left',
    characteristic: 'A feature of the person, from a published list.',
  },
  product: {
    name: 'The name of the product.',
    gtin: 'The number under its bar code: 8, 12, 13 or 14 digits. Example: 4006381333931',
    description: 'What the product is, in words.',
    identifier: 'A number or web address of its maker for it.',
  },
  artwork: {
    title: 'What the work is called. Example: Smacks at anchor',
    creator: 'Who made it; semicolon between several.',
    creatorId: 'A web address or number for each who made it, in the same order.',
    dateCreated: 'When it was made. Example: 1931-07',
    circaDate: 'When it was made, as far as one knows. Example: around 1930',
    stylePeriod: 'Styles or periods it belongs to. Example: national romanticism',
    content: 'What can be seen in the work.',
    contribution: 'What its makers did for it.',
    physical: 'Its material, size and technique. Example: oil on canvas, 40 × 60 cm',
    source: 'Who keeps the work. Example: National Gallery',
    inventoryNumber: 'Its number in that collection.',
    inventoryUrl: 'Web address of its record there.',
    copyrightNotice: 'The notice that must stand with the work. Example: © 1998 the estate',
    copyrightOwner: 'Who owns the copyright in the work now.',
    copyrightOwnerId: 'A web address or number for that owner.',
    licensor: 'Whom to ask for a licence to show the work.',
    licensorId: 'A web address or number for the licensor.',
  },
  term: {
    name: 'The term in words.',
    identifier: 'The web address of the term in its published list.',
    vocabulary: 'The web address of the list it is from.',
    refinedAbout: 'What is meant by “about” here, by the web address of a term.',
  },
  entity: NAME_AND_ID('what is meant'),
  contributor: { ...NAME_AND_ID('who took part'), role: 'What the contributor did, from a published list.' },
  registryEntry: {
    itemId: 'The number of the picture in that registry.',
    organisationId: 'Who keeps the registry, by number or web address.',
    role: 'What the number is for, from a published list.',
  },
  embeddedRights: {
    expression: 'The rights themselves, in a rights language.',
    encoding: ENCODING,
    language: LANGUAGE,
  },
  linkedRights: {
    link: 'Web address at which the rights stand in a rights language.',
    encoding: ENCODING,
    language: LANGUAGE,
  },
  region: {
    name: 'What is in this part of the picture. Example: the harbour master',
    id: 'A mark of this part within the picture. Example: r1',
    boundary: 'Where in the picture the part lies.',
    contentType: 'What kind of thing is in it, from a published list.',
    role: 'What the part is for, from a published list. Example: main subject area',
  },
  boundary: {
    shape: 'rectangle, circle or polygon.',
    unit: 'pixel, or relative: then 0 to 1 of width and height.',
    x: 'From the left edge to the left side, or to the middle of a circle.',
    y: 'From the upper edge to the upper side, or to the middle of a circle.',
    width: 'Width of a rectangle.',
    height: 'Height of a rectangle.',
    radius: 'Radius of a circle, measured along the width.',
    corners: 'Corners of a polygon, at least three, one after the other.',
  },
  corner: { x: 'From the left edge of the picture.', y: 'From the upper edge of the picture.' },
  copyrightOwner: NAME_AND_ID('the owner of the copyright'),
  imageCreator: NAME_AND_ID('the creator of the picture'),
  imageSupplier: NAME_AND_ID('who supplies the picture'),
  licensor: {
    ...NAME_AND_ID('whom to ask for a licence'),
    ...ADDRESS,
    address: 'Street and number.',
    addressMore: 'Floor, department or post box.',
    phoneType: 'What kind of telephone the first number is.',
    phone: 'Telephone with the code of the country. Example: +298 00 00 00',
    phoneType2: 'What kind of telephone the second number is.',
    phone2: 'A second telephone, with the code of the country.',
    email: MAIL,
  },
  collectionInfo: {
    name: 'What the collection is called.',
    uri: 'A web address that stands for the collection.',
  },
  keywordTree: { hierarchy: 'Keywords at the top, each with those below it.' },
  keywordNode: {
    keyword: 'The word itself.',
    applied: 'Whether the word is given to the picture, or stands here for the words below it only.',
    children: 'Words that stand under it.',
  },
};
