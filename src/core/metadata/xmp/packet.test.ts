import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { encodeUtf8 } from '../../bytes/text';
import type { FieldValue, Shape } from '../../fields/shape';
import { setXmpField } from './edit';
import { type Packet, parsePacket, writePacket } from '../../formats/xmp/packet';
import { parseXml } from '../../formats/xmp/xml-reader';
import { writeXml } from '../../formats/xmp/xml-tree';
import { readField } from './values';

const packetOf = (description: string): Packet => {
  const packet = parsePacket(
    encodeUtf8(
      `<x:xmpmeta xmlns:x="adobe:ns:meta/"><rdf:RDF xmlns:rdf="http://www.w3.org/1999/02/22-rdf-syntax-ns#" xmlns:dc="http://purl.org/dc/elements/1.1/" xmlns:photoshop="http://ns.adobe.com/photoshop/1.0/">${description}</rdf:RDF></x:xmpmeta>`,
    ),
  );
  if (packet.state !== 'read') throw new Error(JSON.stringify(packet));
  return packet.value;
};
const textOf = (packet: Packet) => new TextDecoder().decode(writePacket(packet));
const SUBJECT: Shape = { xmp: { prefix: 'dc', name: 'subject' }, form: 'bag', value: 'text' };
const CITY: Shape = { xmp: { prefix: 'photoshop', name: 'City' }, form: 'single', value: 'text' };
const STATE: Shape = { ...CITY, xmp: { prefix: 'photoshop', name: 'State' } };
const CAPTION: Shape = { xmp: { prefix: 'dc', name: 'description' }, form: 'alt', value: 'text' };
const valueIn = (packet: Packet, shape: Shape) => {
  const said = readField(packet, shape);
  return said.state === 'value' ? said.value : said.state;
};
const set = (packet: Packet, shape: Shape, value: FieldValue | null) =>
  setXmpField(packet, shape, value === null ? { state: 'absent' } : { state: 'value', value });

describe('a packet that nobody edits', () => {
  it.each([
    ['odd spacing and quotes', `<rdf:Description rdf:about=''   photoshop:City = "Tórshavn"\n/>`],
    [
      'comments, CDATA and entities',
      `<!-- a < b --><rdf:Description rdf:about=""><dc:source><![CDATA[<7>]]> &amp; &#x41;</dc:source></rdf:Description>`,
    ],
    [
      'foreign structures',
      `<rdf:Description rdf:about="" xmlns:q="urn:q"><q:deep rdf:parseType="Resource"><q:a>1</q:a>\r\n<q:b xml:lang="fo">ð</q:b></q:deep></rdf:Description>`,
    ],
  ])('comes back character by character: %s', (_, description) => {
    const source = `<?xpacket begin="\ufeff"?>\n<x:xmpmeta xmlns:x="adobe:ns:meta/"><rdf:RDF xmlns:rdf="http://www.w3.org/1999/02/22-rdf-syntax-ns#" xmlns:dc="d" xmlns:photoshop="p">${description}</rdf:RDF></x:xmpmeta>\n<?xpacket end="w"?>  \n`;
    const document = parseXml(source);
    expect(document.state).toBe('read');
    if (document.state === 'read') expect(writeXml(document.value)).toBe(source);
  });
});

describe('reading', () => {
  it('finds a property written as an attribute and one written as an element', () => {
    const packet = packetOf(
      '<rdf:Description rdf:about="" photoshop:City="Gjógv"/><rdf:Description rdf:about=""><dc:subject><rdf:Bag><rdf:li>007</rdf:li></rdf:Bag></dc:subject></rdf:Description>',
    );
    expect(valueIn(packet, CITY)).toBe('Gjógv');
    expect(valueIn(packet, SUBJECT)).toEqual(['007']);
  });

  it('tells absent from empty', () => {
    const packet = packetOf('<rdf:Description rdf:about=""><dc:subject><rdf:Bag/></dc:subject></rdf:Description>');
    expect(valueIn(packet, SUBJECT)).toBe('empty');
    expect(valueIn(packet, CITY)).toBe('absent');
  });

  it('takes x-default of a language alternative wherever it stands, and the value of a qualified node', () => {
    const packet = packetOf(
      '<rdf:Description rdf:about=""><dc:description><rdf:Alt><rdf:li xml:lang="fo">Bátur</rdf:li><rdf:li xml:lang="x-default">Boat</rdf:li></rdf:Alt></dc:description><photoshop:City rdf:parseType="Resource"><rdf:value>Sund</rdf:value><q:q xmlns:q="urn:q">x</q:q></photoshop:City></rdf:Description>',
    );
    expect(valueIn(packet, CAPTION)).toBe('Boat');
    expect(valueIn(packet, CITY)).toBe('Sund');
  });

  it.each([
    [
      'a document type, and with it any entity',
      '<!DOCTYPE x [<!ENTITY e "boom">]><x:xmpmeta xmlns:x="adobe:ns:meta/"/>',
      'xmp/doctype',
    ],
    ['a cut-off packet', '<x:xmpmeta xmlns:x="adobe:ns:meta/"><rdf:RDF', 'xmp/not-well-formed'],
    ['XML without RDF', '<svg xmlns="http://www.w3.org/2000/svg"/>', 'xmp/no-rdf'],
  ])('refuses %s', (_, text, code) => {
    expect(parsePacket(encodeUtf8(text))).toMatchObject({ state: 'unreadable', problems: [{ code }] });
  });
});

describe('setting', () => {
  it('keeps other languages, foreign properties and the qualifiers of list members that stay', () => {
    const packet = packetOf(
      '<rdf:Description rdf:about="" xmlns:q="urn:q"><q:own>kept</q:own><dc:description><rdf:Alt><rdf:li xml:lang="x-default">old</rdf:li><rdf:li xml:lang="fo">gamalt</rdf:li></rdf:Alt></dc:description><dc:subject><rdf:Bag><rdf:li q:rank="1">boat</rdf:li><rdf:li>slip</rdf:li></rdf:Bag></dc:subject></rdf:Description>',
    );
    set(packet, CAPTION, 'new');
    set(packet, SUBJECT, ['boat', 'wool']);
    const text = textOf(packet);
    expect(text).toContain('<q:own>kept</q:own>');
    expect(text).toContain('<rdf:li xml:lang="fo">gamalt</rdf:li>');
    expect(text).toContain('<rdf:li q:rank="1">boat</rdf:li>');
    expect(valueIn(packet, CAPTION)).toBe('new');
    expect(valueIn(packet, SUBJECT)).toEqual(['boat', 'wool']);
  });

  it('replaces an attribute by an attribute-free start tag and keeps its neighbours', () => {
    const packet = packetOf('<rdf:Description rdf:about="" photoshop:City="A" photoshop:State="B"/>');
    set(packet, CITY, 'Ð & <ø>');
    const again = parsePacket(writePacket(packet));
    if (again.state !== 'read') throw new Error('must parse');
    expect(valueIn(again.value, CITY)).toBe('Ð & <ø>');
    expect(valueIn(again.value, STATE)).toBe('B');
  });

  it('uses another prefix where its own stands for something else', () => {
    const packet = parsePacket(
      encodeUtf8(
        '<x:xmpmeta xmlns:x="adobe:ns:meta/"><rdf:RDF xmlns:rdf="http://www.w3.org/1999/02/22-rdf-syntax-ns#"><rdf:Description rdf:about="" xmlns:photoshop="urn:other" photoshop:City="theirs"/></rdf:RDF></x:xmpmeta>',
      ),
    );
    if (packet.state !== 'read') throw new Error('must parse');
    set(packet.value, CITY, 'ours');
    const again = parsePacket(writePacket(packet.value));
    if (again.state !== 'read') throw new Error('must parse');
    expect(valueIn(again.value, CITY)).toBe('ours');
    expect(textOf(again.value)).toContain('photoshop:City="theirs"');
  });

  it('the same value again changes no byte', () => {
    const packet = packetOf(
      '<rdf:Description rdf:about="" photoshop:City="A"><dc:subject><rdf:Bag><rdf:li>x</rdf:li></rdf:Bag></dc:subject></rdf:Description>',
    );
    const before = textOf(packet);
    set(packet, CITY, 'A');
    set(packet, SUBJECT, ['x']);
    set(packet, CAPTION, null);
    expect(textOf(packet)).toBe(before);
  });

  it('adding a property and taking it away again gives the same bytes, once its namespace is declared', () => {
    const packet = packetOf('<rdf:Description rdf:about="">\n  </rdf:Description>');
    const before = textOf(packet);
    set(packet, SUBJECT, ['a', 'b']);
    set(packet, SUBJECT, null);
    expect(textOf(packet)).toBe(before);
  });

  it('any text that XML can hold is read back as it was written', () => {
    let tried = 0;
    fc.assert(
      fc.property(fc.array(fc.string({ unit: 'grapheme', minLength: 1 }), { minLength: 1, maxLength: 5 }), (words) => {
        // eslint-disable-next-line no-control-regex
        const holdable = words.filter((word) => !/[\u0000-\u001f\ufffe\uffff]/.test(word));
        const packet = packetOf('<rdf:Description rdf:about=""/>');
        set(packet, SUBJECT, [...new Set(holdable)]);
        const again = parsePacket(writePacket(packet));
        if (again.state !== 'read') throw new Error('must parse');
        expect(valueIn(again.value, SUBJECT)).toEqual(holdable.length > 0 ? [...new Set(holdable)] : 'empty');
        tried += 1;
      }),
    );
    expect(tried).toBe(100);
  });
});
