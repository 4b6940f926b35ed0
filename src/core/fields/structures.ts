// The structures of the IPTC Photo Metadata Standard 2023.1, PLUS LDF 1.2 and the MWG keyword tree: one table each.
// From memory; `tests/reference/registry.test.ts` holds every member against ExifTool's tables.

import type { Prefix } from '../formats/xmp/namespaces';
import { PLUS_VOCABULARY } from './plus';
import type { Form, Shape, ValueKind } from './shape';

export interface MemberRow extends Shape {
  key: string;
  label: string;
}

export type StructureName =
  | 'contact' | 'location' | 'person' | 'product' | 'artwork' | 'term' | 'entity' | 'contributor' | 'registryEntry'
  | 'embeddedRights' | 'linkedRights' | 'region' | 'boundary' | 'corner' | 'copyrightOwner' | 'imageCreator'
  | 'imageSupplier' | 'licensor' | 'collectionInfo' | 'keywordTree' | 'keywordNode' | 'corrections';

type More = Partial<Pick<Shape, 'structure' | 'choices'>> & { form?: Form; value?: ValueKind };

/** Rows of one namespace: `[key, label, local name, what differs from plain text]`. */
const members = (prefix: Prefix, ...rows: [string, string, string, More?][]): MemberRow[] =>
  rows.map(([key, label, name, more]) => ({ key, label, xmp: { prefix, name }, form: 'single', value: 'text', ...more }));

const alt: More = { form: 'alt' };
const bag: More = { form: 'bag' };
const seq: More = { form: 'seq' };
const PHONE: More = { value: 'code', choices: [['work', 'Work'], ['cell', 'Mobile'], ['home', 'Home'], ['fax', 'Fax'], ['pager', 'Pager']].map(([code = '', label = '']) => ({ value: PLUS_VOCABULARY + code, label })) };
const NUMBER: More = { value: 'number' };
const YES: More = { value: 'boolean' };
const of = (structure: StructureName, form: Form): More => ({ form, value: 'structure', structure });

export const STRUCTURES: Readonly<Record<StructureName, readonly MemberRow[]>> = {
  contact: members('Iptc4xmpCore',
    ['address', 'Address', 'CiAdrExtadr'], ['city', 'City', 'CiAdrCity'], ['region', 'Province or state', 'CiAdrRegion'], ['postalCode', 'Postal code', 'CiAdrPcode'],
    ['country', 'Country', 'CiAdrCtry'], ['phone', 'Phone', 'CiTelWork'], ['email', 'E-mail', 'CiEmailWork'], ['web', 'Web address', 'CiUrlWork']),
  location: [
    ...members('Iptc4xmpExt',
      ['name', 'Name', 'LocationName', alt], ['identifier', 'Identifiers', 'LocationId', bag], ['sublocation', 'Location', 'Sublocation'], ['city', 'City', 'City'],
      ['province', 'Province or state', 'ProvinceState'], ['country', 'Country', 'CountryName'], ['countryCode', 'Country code', 'CountryCode'], ['worldRegion', 'World region', 'WorldRegion']),
    ...members('exif', ['lat', 'Latitude', 'GPSLatitude'], ['lon', 'Longitude', 'GPSLongitude'], ['altitude', 'Altitude', 'GPSAltitude'], ['altitudeRef', 'Altitude is below sea level', 'GPSAltitudeRef']),
  ],
  person: members('Iptc4xmpExt',
    ['name', 'Name', 'PersonName', alt], ['identifier', 'Identifiers', 'PersonId', bag], ['description', 'Description', 'PersonDescription', alt], ['characteristic', 'Characteristics', 'PersonCharacteristic', of('term', 'bag')]),
  product: members('Iptc4xmpExt', ['name', 'Name', 'ProductName', alt], ['gtin', 'GTIN', 'ProductGTIN'], ['description', 'Description', 'ProductDescription', alt], ['identifier', 'Identifier', 'ProductId']),
  artwork: members('Iptc4xmpExt',
    ['title', 'Title', 'AOTitle', alt], ['creator', 'Creators', 'AOCreator', seq], ['creatorId', 'Creator identifiers', 'AOCreatorId', seq], ['dateCreated', 'Date made', 'AODateCreated', { value: 'date' }],
    ['circaDate', 'Date made, about', 'AOCircaDateCreated'], ['stylePeriod', 'Style or period', 'AOStylePeriod', bag], ['content', 'What it shows', 'AOContentDescription', alt],
    ['contribution', 'Contribution', 'AOContributionDescription', alt], ['physical', 'Physical description', 'AOPhysicalDescription', alt], ['source', 'Source', 'AOSource'],
    ['inventoryNumber', 'Inventory number', 'AOSourceInvNo'], ['inventoryUrl', 'Inventory web address', 'AOSourceInvURL'], ['copyrightNotice', 'Copyright notice', 'AOCopyrightNotice'],
    ['copyrightOwner', 'Copyright owner', 'AOCurrentCopyrightOwnerName'], ['copyrightOwnerId', 'Copyright owner identifier', 'AOCurrentCopyrightOwnerId'],
    ['licensor', 'Licensor', 'AOCurrentLicensorName'], ['licensorId', 'Licensor identifier', 'AOCurrentLicensorId']),
  term: members('Iptc4xmpExt', ['name', 'Name', 'CvTermName', alt], ['identifier', 'Term identifier', 'CvTermId'], ['vocabulary', 'Vocabulary identifier', 'CvId'], ['refinedAbout', 'Refined "about"', 'CvTermRefinedAbout']),
  entity: [...members('Iptc4xmpExt', ['name', 'Name', 'Name', alt]), ...members('xmp', ['identifier', 'Identifiers', 'Identifier', bag])],
  contributor: [...members('Iptc4xmpExt', ['name', 'Name', 'Name', alt], ['role', 'Roles', 'Role', bag]), ...members('xmp', ['identifier', 'Identifiers', 'Identifier', bag])],
  registryEntry: members('Iptc4xmpExt', ['itemId', 'Item identifier', 'RegItemId'], ['organisationId', 'Organisation identifier', 'RegOrgId'], ['role', 'Role', 'RegEntryRole']),
  embeddedRights: members('Iptc4xmpExt', ['expression', 'Expression', 'EncRightsExpr'], ['encoding', 'Encoding', 'RightsExprEncType'], ['language', 'Language', 'RightsExprLangId']),
  linkedRights: members('Iptc4xmpExt', ['link', 'Link', 'LinkedRightsExpr'], ['encoding', 'Encoding', 'RightsExprEncType'], ['language', 'Language', 'RightsExprLangId']),
  region: members('Iptc4xmpExt',
    ['name', 'Name', 'Name', alt], ['id', 'Identifier', 'rId'], ['boundary', 'Boundary', 'RegionBoundary', of('boundary', 'single')], ['contentType', 'Content types', 'rCtype', of('entity', 'bag')], ['role', 'Roles', 'rRole', of('entity', 'bag')]),
  boundary: members('Iptc4xmpExt',
    ['shape', 'Shape', 'rbShape'], ['unit', 'Unit', 'rbUnit'], ['x', 'Left', 'rbX'], ['y', 'Top', 'rbY'], ['width', 'Width', 'rbW'], ['height', 'Height', 'rbH'], ['radius', 'Radius', 'rbRx'], ['corners', 'Corners', 'rbVertices', of('corner', 'seq')]),
  corner: members('Iptc4xmpExt', ['x', 'Left', 'rbX'], ['y', 'Top', 'rbY']),
  copyrightOwner: members('plus', ['name', 'Name', 'CopyrightOwnerName'], ['identifier', 'Identifier', 'CopyrightOwnerID']),
  imageCreator: members('plus', ['name', 'Name', 'ImageCreatorName'], ['identifier', 'Identifier', 'ImageCreatorID']),
  imageSupplier: members('plus', ['name', 'Name', 'ImageSupplierName'], ['identifier', 'Identifier', 'ImageSupplierID']),
  licensor: members('plus',
    ['name', 'Name', 'LicensorName'], ['identifier', 'Identifier', 'LicensorID'], ['address', 'Address', 'LicensorStreetAddress'], ['addressMore', 'Address, second line', 'LicensorExtendedAddress'],
    ['city', 'City', 'LicensorCity'], ['region', 'Province or state', 'LicensorRegion'], ['postalCode', 'Postal code', 'LicensorPostalCode'], ['country', 'Country', 'LicensorCountry'],
    ['phoneType', 'Kind of phone', 'LicensorTelephoneType1', PHONE], ['phone', 'Phone', 'LicensorTelephone1'], ['phoneType2', 'Kind of second phone', 'LicensorTelephoneType2', PHONE], ['phone2', 'Second phone', 'LicensorTelephone2'],
    ['email', 'E-mail', 'LicensorEmail'], ['web', 'Web address', 'LicensorURL']),
  collectionInfo: members('mwg-coll', ['name', 'Name', 'CollectionName'], ['uri', 'Address', 'CollectionURI']),
  keywordTree: members('mwg-kw', ['hierarchy', 'Keywords', 'Hierarchy', of('keywordNode', 'bag')]),
  keywordNode: members('mwg-kw', ['keyword', 'Keyword', 'Keyword'], ['applied', 'Applied', 'Applied', { value: 'boolean' }], ['children', 'Below it', 'Children', of('keywordNode', 'bag')]),
  // ours; what each number means stands in docs/FORMATS.md, and in core/looks
  corrections: members('wembo',
    ['formulas', 'Formulas', 'Formulas', NUMBER], ['temperature', 'Temperature', 'Temperature', NUMBER], ['tint', 'Tint', 'Tint', NUMBER], ['exposure', 'Exposure', 'Exposure', NUMBER],
    ['black', 'Black point', 'BlackPoint', NUMBER], ['white', 'White point', 'WhitePoint', NUMBER], ['shadows', 'Shadows', 'Shadows', NUMBER], ['highlights', 'Highlights', 'Highlights', NUMBER], ['contrast', 'Contrast', 'Contrast', NUMBER],
    ['vibrance', 'Vibrance', 'Vibrance', NUMBER], ['saturation', 'Saturation', 'Saturation', NUMBER], ['blackAndWhite', 'Black and white', 'BlackAndWhite', YES], ['vignette', 'Corners', 'Corners', NUMBER], ['sharpening', 'Sharpening', 'Sharpening', NUMBER],
    ['turns', 'Quarter turns', 'Turns', NUMBER], ['mirrored', 'Mirrored', 'Mirrored', YES], ['straighten', 'Straighten', 'Straighten', NUMBER],
    ['cropLeft', 'Crop: left', 'CropLeft', NUMBER], ['cropTop', 'Crop: top', 'CropTop', NUMBER], ['cropWidth', 'Crop: width', 'CropWidth', NUMBER], ['cropHeight', 'Crop: height', 'CropHeight', NUMBER]),
};
