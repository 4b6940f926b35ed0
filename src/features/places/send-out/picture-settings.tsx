'use client';

import { Checkbox, InputNumber, Radio, Select } from 'antd';
import {
  MADE_FORMATS,
  type MadeFormat,
  type MadePicture,
  NEW_PROFILE,
  type PictureSettings,
  type Sharpening,
  formatWord,
  losesPixels,
} from '@/core/send-out/delivery-profile';
import type { OutputSize } from '@/core/send-out/output-size';
import styles from './send-out.module.css';

interface Props {
  picture: PictureSettings;
  onChange: (picture: PictureSettings) => void;
}

export function PictureSettingsForm({ picture, onChange }: Props) {
  return (
    <>
      <Radio.Group
        aria-label="What is sent"
        value={picture.kind}
        onChange={({ target }) =>
          onChange(target.value === 'original' ? { kind: 'original', sidecar: false } : NEW_PROFILE.picture)
        }
      >
        <Radio value="made">a picture made of it</Radio>
        <Radio value="original">the original, untouched</Radio>
      </Radio.Group>
      {picture.kind === 'original' ? (
        <Checkbox
          checked={picture.sidecar}
          onChange={({ target }) => onChange({ ...picture, sidecar: target.checked })}
        >
          With the words in a sidecar beside it
        </Checkbox>
      ) : (
        <MadeForm picture={picture} onChange={onChange} />
      )}
    </>
  );
}

const KB = 1000;
const FIRST_LIMIT_BYTES = 2_000_000;

function MadeForm({ picture, onChange }: { picture: MadePicture; onChange: (picture: PictureSettings) => void }) {
  const set = (patch: Partial<MadePicture>) => onChange({ ...picture, ...patch });
  return (
    <>
      <p className={styles.row}>
        <label htmlFor="made-format">Format</label>
        <Select<MadeFormat>
          id="made-format"
          value={picture.format}
          options={MADE_FORMATS.map((value) => ({ value, label: formatWord(value) }))}
          onChange={(format) => set({ format })}
          style={{ width: 100 }}
        />
        {losesPixels(picture.format) && (
          <>
            <label htmlFor="made-quality">Quality</label>
            <InputNumber
              id="made-quality"
              min={1}
              max={100}
              precision={0}
              value={picture.quality}
              onChange={(quality) => set({ quality: quality ?? 92 })}
              style={{ width: 70 }}
            />
          </>
        )}
      </p>
      <SizeForm size={picture.size} onChange={(size) => set({ size })} />
      <p className={styles.row}>
        <label htmlFor="made-ppi">ppi</label>
        <InputNumber
          id="made-ppi"
          min={1}
          max={10_000}
          precision={0}
          value={picture.ppi}
          onChange={(ppi) => set({ ppi: ppi ?? 300 })}
          style={{ width: 80 }}
        />
        {picture.size.kind !== 'full' && (
          <Checkbox checked={picture.enlarge} onChange={({ target }) => set({ enlarge: target.checked })}>
            Enlarge smaller ones
          </Checkbox>
        )}
      </p>
      <p className={styles.row}>
        <label htmlFor="made-colour">Colour</label>
        <Select<MadePicture['colour']>
          id="made-colour"
          value={picture.colour}
          options={[
            { value: 'srgb', label: 'to sRGB' },
            { value: 'kept', label: 'as it is' },
          ]}
          onChange={(colour) => set({ colour })}
          style={{ width: 128 }}
        />
        <label htmlFor="made-sharp">Sharpen</label>
        <Select<Sharpening>
          id="made-sharp"
          value={picture.sharpening}
          options={[
            { value: 'none', label: 'no' },
            { value: 'screen', label: 'for a screen' },
            { value: 'paper', label: 'for paper' },
          ]}
          onChange={(sharpening) => set({ sharpening })}
          style={{ width: 108 }}
        />
      </p>
      <p className={styles.row}>
        <Checkbox
          checked={picture.bytesLimit !== null}
          onChange={({ target }) => set({ bytesLimit: target.checked ? FIRST_LIMIT_BYTES : null })}
        >
          At most
        </Checkbox>
        {picture.bytesLimit !== null && (
          <>
            <InputNumber
              aria-label="Kilobytes at most"
              min={10}
              max={1_000_000}
              precision={0}
              value={picture.bytesLimit / KB}
              onChange={(kilobytes) => set({ bytesLimit: (kilobytes ?? FIRST_LIMIT_BYTES / KB) * KB })}
              style={{ width: 100 }}
            />{' '}
            kB, by quality first, then by size
          </>
        )}
      </p>
    </>
  );
}

const KINDS: { value: OutputSize['kind']; label: string; begin: OutputSize }[] = [
  { value: 'full', label: 'all pixels', begin: { kind: 'full' } },
  { value: 'long-edge', label: 'long edge', begin: { kind: 'long-edge', pixels: 3600 } },
  { value: 'short-edge', label: 'short edge', begin: { kind: 'short-edge', pixels: 1080 } },
  { value: 'within', label: 'within a box', begin: { kind: 'within', width: 1920, height: 1080 } },
  { value: 'megapixels', label: 'megapixels', begin: { kind: 'megapixels', megapixels: 12 } },
  { value: 'print', label: 'print size', begin: { kind: 'print', long: 30, unit: 'cm' } },
];

function SizeForm({ size, onChange }: { size: OutputSize; onChange: (size: OutputSize) => void }) {
  const edge = (label: string, value: number, set: (value: number) => void) => (
    <InputNumber
      aria-label={label}
      min={1}
      max={100_000}
      precision={0}
      value={value}
      onChange={(next) => set(next ?? value)}
      style={{ width: 90 }}
    />
  );
  return (
    <p className={styles.row}>
      <label htmlFor="made-size">Size</label>
      <Select<OutputSize['kind']>
        id="made-size"
        value={size.kind}
        options={KINDS.map(({ value, label }) => ({ value, label }))}
        onChange={(kind) => onChange(KINDS.find(({ value }) => value === kind)?.begin ?? { kind: 'full' })}
        style={{ width: 120 }}
      />
      {(size.kind === 'long-edge' || size.kind === 'short-edge') && (
        <>{edge('Edge in pixels', size.pixels, (pixels) => onChange({ ...size, pixels }))} px</>
      )}
      {size.kind === 'within' && (
        <>
          {edge('Width in pixels', size.width, (width) => onChange({ ...size, width }))} ×{' '}
          {edge('Height in pixels', size.height, (height) => onChange({ ...size, height }))} px
        </>
      )}
      {size.kind === 'megapixels' && (
        <InputNumber
          aria-label="Megapixels"
          min={0.01}
          max={1000}
          value={size.megapixels}
          onChange={(megapixels) => onChange({ ...size, megapixels: megapixels ?? size.megapixels })}
          style={{ width: 90 }}
        />
      )}
      {size.kind === 'print' && (
        <>
          <InputNumber
            aria-label="Long edge of the print"
            min={0.1}
            max={1000}
            value={size.long}
            onChange={(long) => onChange({ ...size, long: long ?? size.long })}
            style={{ width: 70 }}
          />
          <Select<'cm' | 'in'>
            aria-label="Unit"
            value={size.unit}
            options={[
              { value: 'cm', label: 'cm' },
              { value: 'in', label: 'in' },
            ]}
            onChange={(unit) => onChange({ ...size, unit })}
            style={{ width: 64 }}
          />{' '}
          long
        </>
      )}
    </p>
  );
}
