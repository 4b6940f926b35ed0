'use client';

// The sliders of a photo that is corrected, beside its picture. A slider is followed while it moves, and kept as one
// change when it comes to rest.

import { Button, Checkbox, InputNumber, Select, Slider } from 'antd';
import { useState } from 'react';
import { shapedCrop } from '@/core/looks/crop';
import { type SliderKey, type Corrections, isIdentity, sliderOf } from '@/core/looks/corrections';
import type { PhotoRecord } from '@/storage/catalog/records';
import { CopyCorrections } from './copy-corrections';
import {
  type CorrectingAct,
  beginCrop,
  frameOf,
  keepCorrections,
  keepCrop,
  leaveCrop,
  moveSlider,
  setCrop,
  toggleBefore,
  toggleCorrecting,
  useCorrecting,
  useCorrectionsOf,
} from './correcting';
import { useEscape } from '@/ui/keys';
import styles from './picture.module.css';

/** In the order in which they act. */
const GROUPS: readonly [title: string, keys: readonly SliderKey[]][] = [
  ['White balance', ['temperature', 'tint']],
  ['Brightness', ['exposure', 'black', 'white', 'shadows', 'highlights', 'contrast']],
  ['Colour', ['vibrance', 'saturation']],
  ['Edges', ['vignette', 'sharpening']],
];

export function CorrectPanel({ photo, problem }: { photo: PhotoRecord; problem: string | null }) {
  const corrections = useCorrectionsOf(photo);
  const isBefore = useCorrecting((state) => state.isBefore);
  const keep = (act: CorrectingAct) => keepCorrections(photo.id, act);
  return (
    <aside className={styles.correct} aria-label="Corrections">
      <header>
        <h2>Correct</h2>
        <Button size="small" type="text" aria-pressed={isBefore} onClick={toggleBefore}>
          Before <kbd>X</kbd>
        </Button>
        <Button size="small" type="text" onClick={toggleCorrecting}>
          Close <kbd>C</kbd>
        </Button>
      </header>
      {problem && (
        <p role="alert" className={styles.correctProblem}>
          {problem}
        </p>
      )}
      <Frame corrections={corrections} onKeep={keep} photo={photo} />
      {GROUPS.map(([title, keys]) => (
        <section key={title} aria-label={title}>
          <h3>{title}</h3>
          {keys.map((key) => (
            <SliderLine key={key} of={key} photoId={photo.id} corrections={corrections} onKeep={keep} />
          ))}
          {title === 'Colour' && (
            <Checkbox
              checked={corrections.blackAndWhite === true}
              onChange={({ target }) =>
                keep((own) => withPart(own, 'blackAndWhite', target.checked ? true : undefined))
              }
            >
              Black and white
            </Checkbox>
          )}
        </section>
      ))}
      <footer>
        <Button size="small" disabled={isIdentity(corrections)} onClick={() => keep(() => ({}))}>
          As it lies in the file
        </Button>
        <CopyCorrections photoId={photo.id} corrections={corrections} />
      </footer>
    </aside>
  );
}

function withPart<K extends keyof Corrections>(corrections: Corrections, key: K, value: Corrections[K]): Corrections {
  const { [key]: _, ...others } = corrections;
  return value === undefined ? others : { ...others, [key]: value };
}

interface PartProps {
  photoId: string;
  corrections: Corrections;
  onKeep: (act: CorrectingAct) => void;
}

const TURNS = [undefined, 1, 2, 3] as const;

function Frame({ photo, corrections, onKeep }: Omit<PartProps, 'photoId'> & { photo: PhotoRecord }) {
  const photoId = photo.id;
  const turn = (by: 1 | 3) =>
    onKeep((own) => {
      // what is mirrored turns the other way on the screen
      const step = own.mirrored ? 4 - by : by;
      return withPart(own, 'turns', TURNS[((own.turns ?? 0) + step) % 4]);
    });
  return (
    <section aria-label="Frame">
      <h3>Frame</h3>
      <div className={styles.correctActs}>
        <Button size="small" onClick={() => turn(3)}>
          Turn left
        </Button>
        <Button size="small" onClick={() => turn(1)}>
          Turn right
        </Button>
        <Button
          size="small"
          aria-pressed={corrections.mirrored === true}
          onClick={() => onKeep((own) => withPart(own, 'mirrored', own.mirrored ? undefined : true))}
        >
          Mirror
        </Button>
      </div>
      <SliderLine of="straighten" photoId={photoId} corrections={corrections} onKeep={onKeep} />
      <CropActs photo={photo} corrections={corrections} onKeep={onKeep} />
    </section>
  );
}

/** Shapes that paper, frames and screens have (common practice); `0` is any, `-1` that of the picture. */
const SHAPES: readonly [label: string, shape: number][] = [
  ['any shape', 0],
  ['as the picture', -1],
  ['1 : 1', 1],
  ['5 : 4', 5 / 4],
  ['4 : 3', 4 / 3],
  ['3 : 2', 3 / 2],
  ['16 : 9', 16 / 9],
];

function CropActs({ photo, corrections, onKeep }: Omit<PartProps, 'photoId'> & { photo: PhotoRecord }) {
  const cropping = useCorrecting((state) => (state.cropping?.photoId === photo.id ? state.cropping : null));
  const [chosen, setChosen] = useState(0);
  useEscape(cropping !== null, leaveCrop);
  const { width, height } = photo;
  if (!width || !height) return null;
  const picture = frameOf({ width, height }, corrections);
  const own = picture.width / picture.height;
  const choose = (shape: number) => {
    setChosen(shape);
    if (!cropping) return;
    // a shape lies or stands as the picture does
    const wanted = shape === 0 ? null : shape === -1 ? own : own < 1 ? 1 / shape : shape;
    setCrop(wanted === null ? cropping.crop : shapedCrop(cropping.crop, wanted, picture), wanted);
  };
  const turn = () => {
    if (!cropping?.shape) return;
    const shape = 1 / cropping.shape;
    setCrop(shapedCrop(cropping.crop, shape, picture), shape);
  };
  if (!cropping)
    return (
      <div className={styles.correctActs}>
        <Button size="small" onClick={() => beginCrop(photo.id, corrections)}>
          Crop…
        </Button>
        {corrections.crop && (
          <Button size="small" onClick={() => onKeep((own) => withPart(own, 'crop', undefined))}>
            Whole picture
          </Button>
        )}
      </div>
    );
  return (
    <div className={styles.correctActs}>
      <Select
        size="small"
        value={chosen}
        onChange={choose}
        options={SHAPES.map(([label, value]) => ({ label, value }))}
        aria-label="Shape of the crop"
        style={{ width: 118 }}
      />
      <Button size="small" onClick={turn} disabled={cropping.shape === null || cropping.shape === 1}>
        Stand it up
      </Button>
      <Button size="small" type="primary" onClick={() => keepCrop(photo.id)}>
        Keep the crop
      </Button>
      <Button size="small" type="text" onClick={leaveCrop}>
        Leave it
      </Button>
    </div>
  );
}

function SliderLine({ of, photoId, corrections, onKeep }: PartProps & { of: SliderKey }) {
  const { label, from, to, step, rest, unit } = sliderOf(of);
  const value = corrections[of] ?? rest;
  const set =
    (next: number): CorrectingAct =>
    (own) =>
      withPart(own, of, next === rest ? undefined : next);
  const name = unit === '' ? label : `${label}, ${unit}`;
  return (
    <div className={styles.slider}>
      <span>{name}</span>
      <Slider
        min={from}
        max={to}
        step={step}
        value={value}
        included={false}
        tooltip={{ open: false }}
        onChange={(next) => moveSlider(photoId, set(next))}
        onChangeComplete={(next) => onKeep(set(next))}
        ariaLabelForHandle={name}
      />
      <InputNumber
        size="small"
        variant="borderless"
        controls={false}
        min={from}
        max={to}
        step={step}
        value={value}
        onPressEnter={({ currentTarget }) => currentTarget.blur()}
        onChange={(next) => typeof next === 'number' && next !== value && onKeep(set(next))}
        aria-label={`${name}, as a number`}
      />
    </div>
  );
}
