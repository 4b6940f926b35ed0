// Namespace URIs and the prefixes we write where a packet has none of its own (XMP specification parts 1 and 2).

export const NS = {
  x: 'adobe:ns:meta/',
  rdf: 'http://www.w3.org/1999/02/22-rdf-syntax-ns#',
  xml: 'http://www.w3.org/XML/1998/namespace',
  dc: 'http://purl.org/dc/elements/1.1/',
  photoshop: 'http://ns.adobe.com/photoshop/1.0/',
  xmp: 'http://ns.adobe.com/xap/1.0/',
  Iptc4xmpCore: 'http://iptc.org/std/Iptc4xmpCore/1.0/xmlns/',
} as const;

export type Prefix = keyof typeof NS;

/** A property of XMP: the namespace by its usual prefix, and the local name. */
export interface XmpName {
  prefix: Prefix;
  name: string;
}
