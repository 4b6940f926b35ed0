import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { parseSidecar, planSidecar } from '../metadata/xmp/sidecar';
import { type Corrections, SLIDERS, correctionsIn, correctionsValue, isIdentity, tidyCorrections } from './corrections';

const drawn: fc.Arbitrary<Corrections> = fc
  .record(
    {
      ...Object.fromEntries(SLIDERS.map(({ key, from, to }) => [key, fc.double({ min: from, max: to, noNaN: true })])),
      blackAndWhite: fc.constant(true),
      mirrored: fc.constant(true),
      turns: fc.constantFrom(1, 2, 3),
      crop: fc.record({
        left: fc.double({ min: 0, max: 0.9, noNaN: true }),
        top: fc.double({ min: 0, max: 0.9, noNaN: true }),
        width: fc.double({ min: 0.01, max: 1, noNaN: true }),
        height: fc.double({ min: 0.01, max: 1, noNaN: true }),
      }),
    },
    { requiredKeys: [] },
  )
  .map((given) => tidyCorrections(given as Corrections));

describe('corrections', () => {
  it('are found again in the value of the field, and nothing is left of none', () => {
    fc.assert(
      fc.property(drawn, (corrections) => {
        const value = correctionsValue(corrections);
        expect(correctionsIn(value)).toEqual(corrections);
        expect(value === undefined).toBe(isIdentity(corrections));
      }),
    );
  });

  it('what changes nothing is not kept, and what is beyond a slider is brought to its end', () => {
    expect(tidyCorrections({ exposure: 0, temperature: 6504, crop: { left: 0, top: 0, width: 1, height: 1 } })).toEqual(
      {},
    );
    expect(tidyCorrections({ exposure: 99, sharpening: -4, contrast: Number.NaN })).toEqual({ exposure: 5 });
    const { crop } = tidyCorrections({ crop: { left: 0.5, top: -1, width: 3, height: 0 } });
    expect(crop).toEqual({ left: 0.5, top: 0, width: 0.5, height: 0.01 });
  });

  it('go into the sidecar and come back, and taking them away leaves nothing of them', () => {
    const plan = (existing: Uint8Array<ArrayBuffer> | null, corrections: Corrections) => {
      const value = correctionsValue(corrections);
      const fields = { headline: 'On the slip', ...(value && { corrections: value }) };
      const made = planSidecar({ existing, fields, embedded: {}, ending: 'jpg' });
      if (!('bytes' in made)) throw new Error('not written');
      return made.bytes;
    };
    const before = plan(null, {});
    fc.assert(
      fc.property(drawn, (corrections) => {
        const written = plan(before, corrections);
        const read = parseSidecar(written);
        if (read.state !== 'read') throw new Error('not read');
        expect(correctionsIn(read.value.fields.corrections)).toEqual(corrections);
        const cleared = parseSidecar(plan(written, {}));
        expect(cleared).toMatchObject({ value: { fields: { headline: 'On the slip' } } });
        expect(cleared.state === 'read' && cleared.value.fields.corrections).toBeUndefined();
      }),
      { numRuns: 60 },
    );
  });

  it('numbers of other formulas change nothing here, and stay in the file', () => {
    expect(correctionsIn({ formulas: 2, exposure: 1 })).toEqual({});
    expect(correctionsIn({ exposure: 1 })).toEqual({});
    expect(correctionsIn('1 EV')).toEqual({});
  });
});
