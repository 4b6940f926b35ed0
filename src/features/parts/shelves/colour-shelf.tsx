'use client';

// Photos by a colour that a good part of them has: from the palette, or as near to it as the slide says.

import { Slider } from 'antd';
import { COLOUR_NAMES } from '@/core/picture/colour-names';
import { COLOUR_WITHIN } from '@/core/query/terms';
import { termOf, withTerm } from '@/core/query/write-scope';
import styles from './shelves.module.css';
import { Shelf } from './shelf';
import { useScope } from '@/features/parts/search/use-scope';

export function ColourShelf() {
  const { scope, setScope } = useScope();
  const [colour = '', within = String(COLOUR_WITHIN)] = (termOf(scope, 'colour') ?? '').split('~');
  const ask = (next: string, near: number) =>
    setScope((now) =>
      withTerm(now, 'colour', next === '' ? null : `${next}${near === COLOUR_WITHIN ? '' : `~${near}`}`),
    );
  return (
    <Shelf name="colour" title="Colour">
      <div className={styles.palette} role="group" aria-label="Colours">
        {Object.entries(COLOUR_NAMES).map(([name, hex]) => (
          <button
            key={name}
            type="button"
            className={styles.swatch}
            style={{ background: hex }}
            aria-label={name}
            aria-pressed={colour === name}
            title={name}
            onClick={() => ask(colour === name ? '' : name, Number(within))}
          />
        ))}
      </div>
      {colour !== '' && (
        <div className={styles.near}>
          <span>{colour} and how near</span>
          <Slider
            min={4}
            max={30}
            value={Number(within)}
            onChange={(near) => ask(colour, near)}
            ariaLabelForHandle="How near the colour"
            tooltip={{ open: false }}
          />
        </div>
      )}
    </Shelf>
  );
}
