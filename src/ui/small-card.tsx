'use client';

import { Popover } from 'antd';
import { type ReactElement, type ReactNode, useEffect, useState } from 'react';

interface Props {
  content: ReactNode;
  placement: 'left' | 'topLeft';
  /** The button that opens it. */
  children: ReactElement;
}

/** A small card beside the button that opens it. Escape closes it, and nothing else. */
export function SmallCard({ content, placement, children }: Props) {
  const [open, setOpen] = useState(false);
  useEffect(() => {
    if (!open) return;
    const onKey = (event: KeyboardEvent) => {
      if (event.key !== 'Escape') return;
      event.stopPropagation();
      setOpen(false);
    };
    document.addEventListener('keydown', onKey, true);
    return () => document.removeEventListener('keydown', onKey, true);
  }, [open]);
  return <Popover content={content} trigger="click" placement={placement} open={open} onOpenChange={setOpen} destroyOnHidden>{children}</Popover>;
}
