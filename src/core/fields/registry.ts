// The field registry: every descriptive field of a photo is one row here. Forms, search, readers and writers derive
// from it; adding a field is adding a row. Names, XMP properties and IIM datasets follow the IPTC Photo Metadata
// Standard 2023.1 Core and Extension, PLUS LDF 1.2, EXIF 2.32, XMP part 2 and the MWG guidelines 2.0: from memory,
// checked against ExifTool's and exiv2's tables in tests/reference.

import { EXIF, GPS, MAIN } from '../formats/tiff/exif-tags';
import { IIM, type IimDataset } from '../formats/iim/datasets';
import type { Prefix, XmpName } from '../formats/xmp/namespaces';
import { PLUS_VOCABULARY } from './plus';
import type { Choice, FieldValue, Form, Shape, ValueKind } from './shape';
import type { StructureName } from './structures';

export type FieldKey =
  | 'rating' | 'label'
  | 'title' | 'headline' | 'caption' | 'captionWriter' | 'keywords' | 'keywordTree' | 'memberOf' | 'altText' | 'extendedDescription' | 'event' | 'eventId' | 'language' | 'userComment'
  | 'personShown' | 'person' | 'modelAge' | 'modelInfo' | 'organisation' | 'organisationCode' | 'product' | 'artwork' | 'region'
  | 'sublocation' | 'city' | 'province' | 'country' | 'countryCode' | 'locationCreated' | 'locationShown' | 'position' | 'direction' | 'positionTime' | 'positionMethod'
  | 'creator' | 'creatorTitle' | 'contact' | 'copyrightNotice' | 'copyrightStatus' | 'rightsUrl' | 'usageTerms' | 'credit' | 'source' | 'instructions' | 'jobId'
  | 'rightsOwner' | 'copyrightOwner' | 'imageCreator' | 'licensor' | 'imageSupplier' | 'imageSupplierId' | 'modelReleaseStatus' | 'modelReleaseId' | 'minorModelAge'
  | 'propertyReleaseStatus' | 'propertyReleaseId' | 'dataMining' | 'otherConstraints' | 'embeddedRights' | 'linkedRights'
  | 'sceneCode' | 'subjectCode' | 'intellectualGenre' | 'genre' | 'aboutTerm' | 'category' | 'supplementalCategories' | 'urgency'
  | 'corrections'
  | 'captured' | 'digitised' | 'digitalSourceType' | 'contributor' | 'imageGuid' | 'identifier' | 'registryEntry' | 'maxWidth' | 'maxHeight' | 'iptcEdited' | 'cameraOwner' | 'originalName';

export type FieldGroup = 'judgement' | 'content' | 'people' | 'place' | 'rights' | 'licensing' | 'codes' | 'origin' | 'picture';

/**
 * Where EXIF carries the same fact. `artists` parts names at semicolons; `date` has sub-seconds and an offset in tags
 * beside it; `position`, `direction` and `gps-time` are told by several tags of the GPS directory.
 */
export interface ExifTag {
  directory: 'main' | 'exif' | 'gps';
  tag: number;
  notation?: 'artists' | 'date' | 'comment' | 'position' | 'direction' | 'gps-time' | 'rating';
  subSec?: number;
  offset?: number;
}

export interface FieldRow extends Shape {
  key: FieldKey;
  label: string;
  standardName: string;
  help: string;
  group: FieldGroup;
  /** Several lines rather than one. */
  long?: true;
  /** Other properties that carry the same fact: read when the row's own is absent, never written. */
  xmpAlso?: readonly XmpName[];
  iim: IimDataset | null;
  exif: ExifTag | null;
  /** The word before the colon in the scope line. */
  searchName: string;
}

export type FieldValues = Partial<Record<FieldKey, FieldValue>>;

const SOURCE_TYPES = 'http://cv.iptc.org/newscodes/digitalsourcetype/';
const choices = (base: string, ...pairs: [string, string][]): Choice[] => pairs.map(([value, label]) => ({ value: base + value, label }));

const MODEL_RELEASE = choices(PLUS_VOCABULARY, ['MR-NON', 'None'], ['MR-NAP', 'Not applicable'], ['MR-UMR', 'Unlimited model releases'], ['MR-LMR', 'Limited or incomplete model releases']);
const PROPERTY_RELEASE = choices(PLUS_VOCABULARY, ['PR-NON', 'None'], ['PR-NAP', 'Not applicable'], ['PR-UPR', 'Unlimited property releases'], ['PR-LPR', 'Limited or incomplete property releases']);
const MINOR_AGE = choices(PLUS_VOCABULARY, ['AG-UNK', 'Age unknown'], ['AG-A25', '25 or over'], ['AG-A24', '24'], ['AG-A23', '23'], ['AG-A22', '22'], ['AG-A21', '21'], ['AG-A20', '20'], ['AG-A19', '19'], ['AG-A18', '18'], ['AG-A17', '17'], ['AG-A16', '16'], ['AG-A15', '15'], ['AG-U14', '14 or under']);
const DATA_MINING = choices(PLUS_VOCABULARY, ['DMI-UNSPECIFIED', 'Unspecified, no prohibition defined'], ['DMI-ALLOWED', 'Allowed'], ['DMI-PROHIBITED-AIMLTRAINING', 'Prohibited for AI/ML training'], ['DMI-PROHIBITED-GENAIMLTRAINING', 'Prohibited for generative AI/ML training'], ['DMI-PROHIBITED-EXCEPTSEARCHENGINEINDEXING', 'Prohibited except for search engine indexing'], ['DMI-PROHIBITED', 'Prohibited'], ['DMI-PROHIBITED-SEECONSTRAINT', 'Prohibited, see other constraints'], ['DMI-PROHIBITED-SEEEMBEDDEDRIGHTSEXPR', 'Prohibited, see embedded rights expression'], ['DMI-PROHIBITED-SEELINKEDRIGHTSEXPR', 'Prohibited, see linked rights expression']);
const DIGITAL_SOURCE = choices(SOURCE_TYPES, ['digitalCapture', 'Taken with a digital camera'], ['negativeFilm', 'Scanned from a negative'], ['positiveFilm', 'Scanned from a positive'], ['print', 'Scanned from a print'], ['minorHumanEdits', 'Taken, with small edits by hand'], ['compositeCapture', 'Composed of several captured pictures'], ['algorithmicallyEnhanced', 'Enhanced by an algorithm'], ['digitalCreation', 'Drawn by a person with software'], ['dataDrivenMedia', 'Made from data'], ['trainedAlgorithmicMedia', 'Made by a trained algorithm'], ['compositeWithTrainedAlgorithmicMedia', 'Composed with parts made by a trained algorithm']);

const POSITION_METHOD: Choice[] = [['GPS', 'By satellites'], ['MANUAL', 'By hand'], ['CELLID', 'By the telephone network'], ['WLAN', 'By wireless networks']].map(([value = '', label = '']) => ({ value, label }));

type Property = Shape & Pick<FieldRow, 'long' | 'xmpAlso'>;
const property = (prefix: Prefix, name: string, form: Form = 'single', value: ValueKind = 'text'): Property => ({ xmp: { prefix, name }, form, value });
const structure = (prefix: Prefix, name: string, form: Form, of: StructureName): Property => ({ ...property(prefix, name, form, 'structure'), structure: of });
const code = (shape: Property, list: readonly Choice[]): Property => ({ ...shape, value: 'code', choices: list });
const long = (shape: Property): Property => ({ ...shape, long: true });
const ext = (name: string, form?: Form, value?: ValueKind) => property('Iptc4xmpExt', name, form, value);
const plus = (name: string, form?: Form, value?: ValueKind) => property('plus', name, form, value);
const main = (tag: number, notation?: 'artists' | 'rating'): ExifTag => ({ directory: 'main', tag, ...(notation && { notation }) });

const gps = (tag: number, notation: ExifTag['notation']): ExifTag => ({ directory: 'gps', tag, notation });

type Also = Partial<Pick<FieldRow, 'iim' | 'exif' | 'standardName'>>;

function group(name: FieldGroup, ...rows: [FieldKey, string, string, string, Property, Also?][]): FieldRow[] {
  return rows.map(([key, label, searchName, help, shape, also]) => ({ key, label, searchName, help, group: name, standardName: label, iim: null, exif: null, ...shape, ...also }));
}

export const FIELDS: readonly FieldRow[] = [
  ...group('judgement',
    ['rating', 'Rating', 'rating', 'One to five; 0 is unrated, −1 rejected.', property('xmp', 'Rating', 'single', 'number'), { exif: main(MAIN.rating, 'rating'), standardName: 'Image Rating' }],
    ['label', 'Marker', 'marker', 'A mark of your own making, by its name. Example: to print', property('xmp', 'Label'), { standardName: 'Label' }]),
  ...group('content',
    ['title', 'Title', 'title', 'A short name or reference for the photo. Example: Klaksvík slip 032', property('dc', 'title', 'alt'), { iim: IIM.objectName }],
    ['headline', 'Headline', 'headline', 'What the picture shows, in a line. Example: Launching after the third refit', property('photoshop', 'Headline'), { iim: IIM.headline }],
    ['caption', 'Caption', 'caption', 'Who, what, when, where and why, in sentences.', long(property('dc', 'description', 'alt')), { iim: IIM.caption, exif: main(MAIN.imageDescription), standardName: 'Description' }],
    ['captionWriter', 'Caption writer', 'writer', 'Name or initials of who wrote the caption. Example: RJ', property('photoshop', 'CaptionWriter'), { iim: IIM.writer, standardName: 'Description Writer' }],
    ['keywords', 'Keywords', 'keyword', 'Words to find the photo by; comma or semicolon between them.', property('dc', 'subject', 'bag'), { iim: IIM.keywords }],
    ['keywordTree', 'Keyword tree', 'tree', 'Keywords with those they stand under. Example: Boats, below it: rowing boats', structure('mwg-kw', 'Keywords', 'single', 'keywordTree'), { standardName: 'Keywords (MWG hierarchy)' }],
    ['memberOf', 'Collections', 'collection', 'Collections the picture belongs to, each with a name and an address. Sets that were put together by hand stand here.', structure('mwg-coll', 'Collections', 'bag', 'collectionInfo'), { standardName: 'Collections (MWG)' }],
    ['altText', 'Alt text', 'alttext', 'What a person who cannot see the picture should be told, in one sentence.', long(property('Iptc4xmpCore', 'AltTextAccessibility', 'alt')), { standardName: 'Alt Text (Accessibility)' }],
    ['extendedDescription', 'Extended description', 'extended', 'A fuller description for those who cannot see the picture.', long(property('Iptc4xmpCore', 'ExtDescrAccessibility', 'alt')), { standardName: 'Extended Description (Accessibility)' }],
    ['event', 'Event', 'event', 'Name of the event shown. Example: Ólavsøka 2019', ext('Event', 'alt'), { standardName: 'Event Name' }],
    ['eventId', 'Event identifiers', 'eventid', 'Identifiers of the event, as web addresses.', ext('EventId', 'bag'), { standardName: 'Event Identifier' }],
    ['language', 'Languages', 'language', 'Languages of words in the picture or of its description, by their codes. Example: fo', property('dc', 'language', 'bag'), { standardName: 'Language' }],
    ['userComment', 'Comment', 'comment', 'A free remark, as cameras can record it.', long(property('exif', 'UserComment', 'alt')), { exif: { directory: 'exif', tag: EXIF.userComment, notation: 'comment' }, standardName: 'UserComment' }]),
  ...group('people',
    ['personShown', 'People shown', 'person', 'Names of the people in the picture; semicolon between them.', ext('PersonInImage', 'bag'), { standardName: 'Person Shown in the Image' }],
    ['person', 'People shown, in detail', 'persondetail', 'People with identifiers and characteristics.', structure('Iptc4xmpExt', 'PersonInImageWDetails', 'bag', 'person'), { standardName: 'Person Shown in the Image with Details' }],
    ['modelAge', 'Ages of models', 'modelage', 'Age in years of each person released, at the time of the picture.', ext('ModelAge', 'bag'), { standardName: 'Model Age' }],
    ['modelInfo', 'About the models', 'modelinfo', 'Further facts about the people released.', long(ext('AddlModelInfo')), { standardName: 'Additional Model Information' }],
    ['organisation', 'Organisations shown', 'organisation', 'Names of organisations or companies in the picture.', ext('OrganisationInImageName', 'bag'), { standardName: 'Name of Organisation Featured in the Image' }],
    ['organisationCode', 'Organisation codes', 'organisationcode', 'Codes of the organisations shown.', ext('OrganisationInImageCode', 'bag'), { standardName: 'Code of Organisation Featured in the Image' }],
    ['product', 'Products shown', 'product', 'Products in the picture, with their GTIN.', structure('Iptc4xmpExt', 'ProductInImage', 'bag', 'product'), { standardName: 'Product Shown in the Image' }],
    ['artwork', 'Artworks and objects shown', 'artwork', 'Works or objects in the picture: title, maker, where they are kept.', structure('Iptc4xmpExt', 'ArtworkOrObject', 'bag', 'artwork'), { standardName: 'Artwork or Object in the Image' }],
    ['region', 'Regions', 'region', 'Named parts of the picture.', structure('Iptc4xmpExt', 'ImageRegion', 'bag', 'region'), { standardName: 'Image Region' }]),
  ...group('place',
    ['sublocation', 'Location', 'location', 'The spot within the city or region. Example: the old slip', property('Iptc4xmpCore', 'Location'), { iim: IIM.sublocation, standardName: 'Sublocation (legacy)' }],
    ['city', 'City', 'city', 'City, town or village.', property('photoshop', 'City'), { iim: IIM.city, standardName: 'City (legacy)' }],
    ['province', 'Province or state', 'province', 'Region within the country. Example: Norðoyar', property('photoshop', 'State'), { iim: IIM.provinceState, standardName: 'Province or State (legacy)' }],
    ['country', 'Country', 'country', 'The country by its full name.', property('photoshop', 'Country'), { iim: IIM.countryName, standardName: 'Country (legacy)' }],
    ['countryCode', 'Country code', 'countrycode', 'Two or three letters, ISO 3166. Example: FO or FRO', property('Iptc4xmpCore', 'CountryCode'), { iim: IIM.countryCode, standardName: 'Country Code (legacy)' }],
    ['locationCreated', 'Place of the camera', 'created', 'Where the camera stood.', structure('Iptc4xmpExt', 'LocationCreated', 'bag', 'location'), { standardName: 'Location Created' }],
    ['locationShown', 'Places shown', 'shown', 'What place or places the picture shows.', structure('Iptc4xmpExt', 'LocationShown', 'bag', 'location'), { standardName: 'Location Shown in the Image' }],
    ['position', 'Position', 'position', 'Where the camera stood: latitude and longitude in any usual notation. Example: 62.2270, -6.5890', property('exif', 'GPSLatitude', 'single', 'position'), { exif: gps(GPS.lat, 'position'), standardName: 'GPSLatitude, GPSLongitude, GPSAltitude' }],
    ['direction', 'Direction of view', 'direction', 'Where the camera looked, in degrees from true north over east. Example: 243', property('exif', 'GPSImgDirection', 'single', 'direction'), { exif: gps(GPS.direction, 'direction'), standardName: 'GPSImgDirection' }],
    ['positionTime', 'Time of the position', 'positiontime', 'When the receiver was there, in UTC.', property('exif', 'GPSTimeStamp', 'single', 'date'), { exif: gps(GPS.timeStamp, 'gps-time'), standardName: 'GPSTimeStamp' }],
    ['positionMethod', 'How the position was found', 'foundby', 'By satellites (from the camera, or from a track), by hand, by a telephone’s or a wireless network.', code(property('exif', 'GPSProcessingMethod'), POSITION_METHOD), { exif: gps(GPS.method, 'comment'), standardName: 'GPSProcessingMethod' }]),
  ...group('rights',
    ['creator', 'Creator', 'creator', 'Who made the photo; several names with a semicolon between them.', property('dc', 'creator', 'seq'), { iim: IIM.byline, exif: main(MAIN.artist, 'artists') }],
    ['creatorTitle', 'Creator’s job title', 'creatortitle', 'What the creator does or is. Example: staff photographer', property('photoshop', 'AuthorsPosition'), { iim: IIM.bylineTitle, standardName: 'Creator’s jobtitle' }],
    ['contact', 'Creator’s contact', 'contact', 'How the creator can be reached.', structure('Iptc4xmpCore', 'CreatorContactInfo', 'single', 'contact'), { standardName: 'Creator’s Contact Info' }],
    ['copyrightNotice', 'Copyright notice', 'copyright', 'Sign, year and owner. Example: © 2026 Faroe Harbours Survey', property('dc', 'rights', 'alt'), { iim: IIM.copyrightNotice, exif: main(MAIN.copyright) }],
    ['copyrightStatus', 'Protected by copyright', 'protected', 'Yes: all rights are kept. No: public domain. Empty: not known.', property('xmpRights', 'Marked', 'single', 'boolean'), { standardName: 'Marked' }],
    ['rightsUrl', 'Web statement of rights', 'rightsurl', 'Web address of the terms that hold for this photo.', property('xmpRights', 'WebStatement'), { standardName: 'Web Statement of Rights' }],
    ['usageTerms', 'Rights usage terms', 'terms', 'How the photo may be used, in words.', long(property('xmpRights', 'UsageTerms', 'alt')), { standardName: 'Rights Usage Terms' }],
    ['credit', 'Credit line', 'credit', 'The words that must stand beside the published picture. Example: Mia Holt / Faroe Harbours Survey. Not who owns it, and not where it came from: that is the source.', property('photoshop', 'Credit'), { iim: IIM.credit }],
    ['source', 'Source', 'source', 'Who first had the photo, or passed it on to you: an agency, a museum, a family. Example: Jacobsen family album. The credit says how to name it in print; the source says where it came from.', property('photoshop', 'Source'), { iim: IIM.source }],
    ['instructions', 'Instructions', 'instructions', 'Anything a receiver must know or do.', property('photoshop', 'Instructions'), { iim: IIM.specialInstructions }],
    ['jobId', 'Job identifier', 'job', 'Number or name of the job, for following it through.', property('photoshop', 'TransmissionReference'), { iim: IIM.transmissionReference, standardName: 'Job Id' }]),
  ...group('licensing',
    ['rightsOwner', 'Rights owners', 'rightsowner', 'Who owns the rights, by name.', property('xmpRights', 'Owner', 'bag'), { standardName: 'Owner' }],
    ['copyrightOwner', 'Copyright owners', 'copyrightowner', 'Owners of the copyright, with their identifiers.', structure('plus', 'CopyrightOwner', 'seq', 'copyrightOwner'), { standardName: 'Copyright Owner' }],
    ['imageCreator', 'Image creators', 'imagecreator', 'Creators with their identifiers.', structure('plus', 'ImageCreator', 'seq', 'imageCreator'), { standardName: 'Image Creator' }],
    ['licensor', 'Licensors', 'licensor', 'Whom to ask for a licence, and how to reach them.', structure('plus', 'Licensor', 'seq', 'licensor')],
    ['imageSupplier', 'Image suppliers', 'supplier', 'Who delivered the photo last.', structure('plus', 'ImageSupplier', 'seq', 'imageSupplier'), { standardName: 'Image Supplier' }],
    ['imageSupplierId', 'Supplier’s image number', 'supplierid', 'The number the supplier gave the photo.', plus('ImageSupplierImageID'), { standardName: 'Image Supplier’s Image ID' }],
    ['modelReleaseStatus', 'Model release', 'modelrelease', 'Whether the people shown have agreed.', code(plus('ModelReleaseStatus'), MODEL_RELEASE), { standardName: 'Model Release Status' }],
    ['modelReleaseId', 'Model release numbers', 'modelreleaseid', 'Numbers of the releases that were signed.', plus('ModelReleaseID', 'bag'), { standardName: 'Model Release Id' }],
    ['minorModelAge', 'Age of the youngest', 'minorage', 'Age of the youngest person shown.', code(plus('MinorModelAgeDisclosure'), MINOR_AGE), { standardName: 'Minor Model Age Disclosure' }],
    ['propertyReleaseStatus', 'Property release', 'propertyrelease', 'Whether the owners of what is shown have agreed.', code(plus('PropertyReleaseStatus'), PROPERTY_RELEASE), { standardName: 'Property Release Status' }],
    ['propertyReleaseId', 'Property release numbers', 'propertyreleaseid', 'Numbers of the releases that were signed.', plus('PropertyReleaseID', 'bag'), { standardName: 'Property Release Id' }],
    ['dataMining', 'Data mining', 'datamining', 'Whether the photo may be used for data mining and training.', code(plus('DataMining'), DATA_MINING), { standardName: 'Data Mining' }],
    ['otherConstraints', 'Other constraints', 'constraints', 'Further constraints on use, in words.', long(plus('OtherConstraints', 'alt')), { standardName: 'Other Constraints' }],
    ['embeddedRights', 'Embedded rights expressions', 'embeddedrights', 'Rights in a rights expression language.', structure('Iptc4xmpExt', 'EmbdEncRightsExpr', 'bag', 'embeddedRights'), { standardName: 'Embedded Encoded Rights Expression' }],
    ['linkedRights', 'Linked rights expressions', 'linkedrights', 'Links to rights in a rights expression language.', structure('Iptc4xmpExt', 'LinkedEncRightsExpr', 'bag', 'linkedRights'), { standardName: 'Linked Encoded Rights Expression' }]),
  ...group('codes',
    ['sceneCode', 'Scene codes', 'scene', 'IPTC scene codes, six digits. Example: 011200', property('Iptc4xmpCore', 'Scene', 'bag'), { standardName: 'Scene Code' }],
    ['subjectCode', 'Subject codes', 'subject', 'IPTC subject codes, eight digits. Example: 01000000', property('Iptc4xmpCore', 'SubjectCode', 'bag'), { iim: IIM.subjectReference, standardName: 'Subject Code' }],
    ['intellectualGenre', 'Intellectual genre', 'intellectualgenre', 'The kind of journalistic work. Example: Feature', property('Iptc4xmpCore', 'IntellectualGenre'), { iim: IIM.objectAttribute, standardName: 'Intellectual Genre' }],
    ['genre', 'Genres', 'genre', 'Genres from a published list.', structure('Iptc4xmpExt', 'Genre', 'bag', 'term'), { standardName: 'Genre' }],
    ['aboutTerm', 'Subjects from a list', 'about', 'What the photo is about, by terms of a published list.', structure('Iptc4xmpExt', 'AboutCvTerm', 'bag', 'term'), { standardName: 'CV-Term About Image' }],
    ['category', 'Category', 'category', 'Three letters at most; of older systems.', property('photoshop', 'Category'), { iim: IIM.category }],
    ['supplementalCategories', 'Further categories', 'categories', 'Of older systems.', property('photoshop', 'SupplementalCategories', 'bag'), { iim: IIM.supplementalCategories, standardName: 'Supplemental Categories' }],
    ['urgency', 'Urgency', 'urgency', 'Editorial urgency, 1 most to 8 least.', property('photoshop', 'Urgency', 'single', 'number'), { iim: IIM.urgency }]),
  ...group('origin',
    ['captured', 'Date taken', 'taken', 'When it was taken, as far as it is known. Example: 2019-07-04T14:03:22+01:00, or 1968', { ...property('photoshop', 'DateCreated', 'single', 'date'), xmpAlso: [{ prefix: 'exif', name: 'DateTimeOriginal' }] }, { iim: IIM.dateCreated, exif: { directory: 'exif', tag: EXIF.dateTimeOriginal, notation: 'date', subSec: EXIF.subSecTimeOriginal, offset: EXIF.offsetTimeOriginal }, standardName: 'Date Created' }],
    ['digitised', 'Date digitised', 'digitised', 'When it was scanned or, with a digital camera, taken.', { ...property('xmp', 'CreateDate', 'single', 'date'), xmpAlso: [{ prefix: 'exif', name: 'DateTimeDigitized' }] }, { iim: IIM.digitalCreationDate, exif: { directory: 'exif', tag: EXIF.dateTimeDigitized, notation: 'date', subSec: EXIF.subSecTimeDigitized, offset: EXIF.offsetTimeDigitized }, standardName: 'Create Date' }],
    ['digitalSourceType', 'Kind of source', 'sourcetype', 'How the picture came to be digital.', code(ext('DigitalSourceType'), DIGITAL_SOURCE), { standardName: 'Digital Source Type' }],
    ['contributor', 'Contributors', 'contributor', 'Others who had a part in it, with their roles.', structure('Iptc4xmpExt', 'Contributor', 'bag', 'contributor')],
    ['imageGuid', 'Image identifier', 'guid', 'A number that no other picture in the world has.', ext('DigImageGUID'), { standardName: 'Digital Image GUID' }],
    ['identifier', 'Identifiers', 'identifier', 'Numbers of the photo in other systems.', property('xmp', 'Identifier', 'bag'), { standardName: 'Identifier' }],
    ['registryEntry', 'Registry entries', 'registry', 'Where the photo is registered, and under what number.', structure('Iptc4xmpExt', 'RegistryId', 'bag', 'registryEntry'), { standardName: 'Image Registry Entry' }],
    ['maxWidth', 'Largest width available', 'maxwidth', 'In pixels, of the largest version there is.', ext('MaxAvailWidth', 'single', 'number'), { standardName: 'Max Avail Width' }],
    ['maxHeight', 'Largest height available', 'maxheight', 'In pixels, of the largest version there is.', ext('MaxAvailHeight', 'single', 'number'), { standardName: 'Max Avail Height' }],
    ['iptcEdited', 'IPTC fields last edited', 'iptcedited', 'When an IPTC field was changed last.', ext('IptcLastEdited', 'single', 'date'), { standardName: 'IPTC Fields Last Edited' }],
    ['cameraOwner', 'Owner of the camera', 'cameraowner', 'As set in the camera.', property('exifEX', 'CameraOwnerName'), { exif: { directory: 'exif', tag: EXIF.cameraOwner }, standardName: 'CameraOwnerName' }],
    ['originalName', 'Name before', 'namebefore', 'The name the file had when it came, most often the camera’s. Example: NK4_2032.jpg', property('xmpMM', 'PreservedFileName'), { standardName: 'Preserved File Name' }]),
  ...group('picture',
    ['corrections', 'Corrections', 'corrections', 'How the picture is corrected when it is shown or sent; the file stays as it is.', structure('wembo', 'Corrections', 'single', 'corrections'), { standardName: 'Corrections (Wembo)' }]),
];

/** Fields that hold words or facts a person writes; not how the picture is corrected. */
export const WRITTEN_FIELDS: readonly FieldRow[] = FIELDS.filter((row) => row.group !== 'picture');

const byKey = new Map(FIELDS.map((row) => [row.key, row]));

const BY_SEARCH_NAME = new Map(FIELDS.map((row) => [row.searchName, row]));

/** By the name it is searched by, in small letters. */
export const fieldNamed = (searchName: string): FieldRow | undefined => BY_SEARCH_NAME.get(searchName);

export function fieldOf(key: FieldKey): FieldRow {
  const row = byKey.get(key);
  if (!row) throw new Error(`no field ${key}`);
  return row;
}

export const isFieldKey = (text: string): text is FieldKey => byKey.has(text as FieldKey);
