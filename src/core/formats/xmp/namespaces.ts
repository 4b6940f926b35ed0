// Namespace URIs and the prefixes we write where a packet has none of its own (XMP specification parts 1 and 2, IPTC
// Photo Metadata Standard, PLUS LDF, MWG guidelines 2.0). The last group is only read, for naming properties in lists.

/** The namespace of namespace declarations themselves (Namespaces in XML 1.0, section 3). */
export const XMLNS = 'http://www.w3.org/2000/xmlns/';

export const NS = {
  x: 'adobe:ns:meta/',
  rdf: 'http://www.w3.org/1999/02/22-rdf-syntax-ns#',
  xml: 'http://www.w3.org/XML/1998/namespace',
  dc: 'http://purl.org/dc/elements/1.1/',
  photoshop: 'http://ns.adobe.com/photoshop/1.0/',
  xmp: 'http://ns.adobe.com/xap/1.0/',
  xmpRights: 'http://ns.adobe.com/xap/1.0/rights/',
  xmpMM: 'http://ns.adobe.com/xap/1.0/mm/',
  xmpNote: 'http://ns.adobe.com/xmp/note/',
  Iptc4xmpCore: 'http://iptc.org/std/Iptc4xmpCore/1.0/xmlns/',
  Iptc4xmpExt: 'http://iptc.org/std/Iptc4xmpExt/2008-02-29/',
  plus: 'http://ns.useplus.org/ldf/xmp/1.0/',
  'mwg-kw': 'http://www.metadataworkinggroup.com/schemas/keywords/',
  'mwg-coll': 'http://www.metadataworkinggroup.com/schemas/collections/',
  exif: 'http://ns.adobe.com/exif/1.0/',
  exifEX: 'http://cipa.jp/exif/1.0/',
  tiff: 'http://ns.adobe.com/tiff/1.0/',
  aux: 'http://ns.adobe.com/exif/1.0/aux/',
  /** Ours, described in docs/FORMATS.md. */
  wembo: 'urn:wembo:xmp:1.0:',
} as const;

export type Prefix = keyof typeof NS;

/** A property of XMP: the namespace by its usual prefix, and the local name. */
export interface XmpName {
  prefix: Prefix;
  name: string;
}
