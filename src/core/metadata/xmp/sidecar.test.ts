import { describe, expect, it } from 'vitest';
import { encodeUtf8 } from '../../bytes/text';
import { effectiveFields, parseSidecar, planSidecar, type Sidecar } from './sidecar';

const plan = (given: Partial<Parameters<typeof planSidecar>[0]>) => {
  const made = planSidecar({ existing: null, fields: {}, embedded: {}, ending: 'jpg', ...given });
  if (!('bytes' in made)) throw new Error(JSON.stringify(made.problems));
  return made.bytes;
};
const read = (bytes: Uint8Array): Sidecar => {
  const sidecar = parseSidecar(bytes);
  if (sidecar.state !== 'read') throw new Error('must be readable');
  return sidecar.value;
};

describe('sidecars', () => {
  const fields = {
    title: '007',
    caption: 'Line one\nline two',
    keywords: ['boat', 'Klaksvík'],
    creator: ['Á', 'B'],
    rating: -1,
    label: 'exhibition',
  };

  it('hold every field as it was given, and say which file they are for', () => {
    expect(read(plan({ fields, ending: 'cr2' }))).toEqual({ fields, emptied: [], forEnding: 'cr2', stamps: new Map() });
  });

  it('saved again without a change are the same bytes', () => {
    const first = plan({ fields });
    expect(plan({ existing: first, fields })).toEqual(first);
  });

  it('one field changed and changed back gives the bytes of before', () => {
    const first = plan({ fields });
    const changed = plan({ existing: first, fields: { ...fields, title: 'other' } });
    expect(changed).not.toEqual(first);
    expect(plan({ existing: changed, fields })).toEqual(first);
  });

  it('a field cleared over a value in the image is written as empty, and stays cleared when read', () => {
    const embedded = { headline: 'in the image', city: 'Gjógv' };
    const sidecar = read(plan({ fields: { city: 'Gjógv' }, embedded }));
    expect(sidecar.emptied).toEqual(['headline']);
    expect(effectiveFields(embedded, sidecar)).toEqual({ city: 'Gjógv' });
  });

  it('another program’s rating that is none of ours is left as it stands', () => {
    const existing = encodeUtf8(
      '<x:xmpmeta xmlns:x="adobe:ns:meta/"><rdf:RDF xmlns:rdf="http://www.w3.org/1999/02/22-rdf-syntax-ns#"><rdf:Description rdf:about="" xmlns:xmp="http://ns.adobe.com/xap/1.0/" xmp:Rating="99"/></rdf:RDF></x:xmpmeta>',
    );
    expect(plan({ existing })).toEqual(existing);
  });

  it('one that cannot be understood is not written over', () => {
    expect(planSidecar({ existing: encodeUtf8('not xml'), fields, embedded: {}, ending: 'jpg' })).toMatchObject({
      problems: [{ code: 'xmp/not-well-formed' }],
    });
  });
});
