'use client';

// The edge of a panel: dragged, or moved by the arrow keys, it makes the panel wider; its button folds it. As the
// window splitter of the ARIA Authoring Practices Guide.

import { type KeyboardEvent, type PointerEvent, useRef } from 'react';
import { PANELS, type Panel, foldPanel, usePanels, widenPanel } from './panels';
import styles from './panels.module.css';

const STEP = 16;

interface Props {
  of: Panel;
  /** On which side of the edge the panel lies. */
  side: 'left' | 'right';
}

export function PanelEdge({ of, side }: Props) {
  const { width, folded } = usePanels((state) => state[of]);
  const { label, least, most, width: usual } = PANELS[of];
  const from = useRef<{ x: number; width: number } | null>(null);
  const grow = side === 'left' ? 1 : -1;
  const take = (event: PointerEvent) => {
    event.currentTarget.setPointerCapture(event.pointerId);
    from.current = { x: event.clientX, width };
  };
  const drag = (event: PointerEvent) => {
    if (from.current) widenPanel(of, from.current.width + grow * (event.clientX - from.current.x));
  };
  const press = (event: KeyboardEvent) => {
    const by = { ArrowLeft: -STEP, ArrowRight: STEP }[event.key];
    if (by === undefined && event.key !== 'Home') return;
    event.preventDefault();
    event.stopPropagation();
    widenPanel(of, by === undefined ? usual : width + grow * by);
  };
  return (
    <div className={styles.edge} data-side={side} data-folded={folded}>
      {!folded && (
        <div
          role="separator"
          aria-orientation="vertical"
          aria-label={`Width of ${label}`}
          aria-valuenow={width}
          aria-valuemin={least}
          aria-valuemax={most}
          tabIndex={0}
          className={styles.bar}
          onPointerDown={take}
          onPointerMove={drag}
          onPointerUp={() => (from.current = null)}
          onDoubleClick={() => widenPanel(of, usual)}
          onKeyDown={press}
        />
      )}
      <button
        type="button"
        className={styles.fold}
        onClick={() => foldPanel(of)}
        aria-expanded={!folded}
        aria-label={`${folded ? 'Unfold' : 'Fold'} ${label}`}
      >
        {(side === 'left') === folded ? '›' : '‹'}
      </button>
    </div>
  );
}
