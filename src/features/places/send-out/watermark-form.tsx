'use client';

import { Button, Checkbox, Input, Select, Slider, Upload, App } from 'antd';
import { CORNERS, WATERMARK_BYTES_LIMIT, type Watermark, type WatermarkPlace } from '@/core/send-out/watermark';
import { bytes } from '@/ui/format';
import styles from './send-out.module.css';

const FIRST: Watermark = {
  text: '© [=year] [=creator]',
  picture: null,
  place: 'bottom-right',
  size: 0.04,
  opacity: 0.7,
};
const PLACES: Record<WatermarkPlace, string> = {
  'top-left': 'top left',
  'top-right': 'top right',
  middle: 'middle',
  'bottom-left': 'bottom left',
  'bottom-right': 'bottom right',
};

interface Props {
  watermark: Watermark | null;
  onChange: (watermark: Watermark | null) => void;
}

export function WatermarkForm({ watermark, onChange }: Props) {
  const set = (patch: Partial<Watermark>) => watermark && onChange({ ...watermark, ...patch });
  return (
    <>
      <Checkbox checked={watermark !== null} onChange={({ target }) => onChange(target.checked ? FIRST : null)}>
        Lay a watermark over each picture
      </Checkbox>
      {watermark && (
        <>
          <p className={styles.row}>
            <label htmlFor="mark-text">Words</label>
            <Input
              id="mark-text"
              value={watermark.text}
              maxLength={500}
              onChange={({ target }) => set({ text: target.value })}
            />
          </p>
          <p className="quiet">[=creator], [=year], [=credit] … stand for what each photo says by that name.</p>
          <p className={styles.row}>
            <Sign watermark={watermark} onChange={(picture) => set({ picture })} />
            <label htmlFor="mark-place">Where</label>
            <Select<WatermarkPlace>
              id="mark-place"
              value={watermark.place}
              options={CORNERS.map((value) => ({ value, label: PLACES[value] }))}
              onChange={(place) => set({ place })}
              style={{ width: 130 }}
            />
          </p>
          <div className={styles.sliders}>
            <label id="mark-size">Height {Math.round(watermark.size * 100)} %</label>
            <Slider
              ariaLabelledByForHandle="mark-size"
              min={1}
              max={40}
              value={Math.round(watermark.size * 100)}
              onChange={(value) => set({ size: value / 100 })}
            />
            <label id="mark-opacity">Strength {Math.round(watermark.opacity * 100)} %</label>
            <Slider
              ariaLabelledByForHandle="mark-opacity"
              min={5}
              max={100}
              value={Math.round(watermark.opacity * 100)}
              onChange={(value) => set({ opacity: value / 100 })}
            />
          </div>
        </>
      )}
    </>
  );
}

/** A PNG of the person's, which is kept within the profile. */
function Sign({ watermark, onChange }: { watermark: Watermark; onChange: (picture: string | null) => void }) {
  const { message } = App.useApp();
  const take = async (file: File) => {
    const address = await dataUrl(file);
    if (file.type !== 'image/png' || address.length > WATERMARK_BYTES_LIMIT)
      message.error(`“${file.name}” was not taken: a sign is a PNG of at most ${bytes(WATERMARK_BYTES_LIMIT * 0.75)}.`);
    else onChange(address);
  };
  if (watermark.picture)
    return (
      <Button size="small" onClick={() => onChange(null)}>
        Without the sign
      </Button>
    );
  return (
    <Upload
      accept="image/png"
      showUploadList={false}
      beforeUpload={(file) => {
        void take(file);
        return false;
      }}
    >
      <Button size="small">A picture before them…</Button>
    </Upload>
  );
}

const dataUrl = (file: File): Promise<string> =>
  new Promise((resolve, reject) => {
    const reader = new FileReader();
    reader.onload = () => resolve(String(reader.result));
    reader.onerror = () => reject(reader.error ?? new Error('not read'));
    reader.readAsDataURL(file);
  });
