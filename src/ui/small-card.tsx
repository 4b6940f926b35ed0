'use client';

import { Popover } from 'antd';
import { type ReactElement, type ReactNode, useState } from 'react';
import { useEscape } from './keys';

interface Props {
  content: ReactNode;
  placement: 'topRight' | 'topLeft' | 'bottomRight' | 'bottomLeft';
  /** The button that opens it. */
  children: ReactElement;
}

/** A small card beside the button that opens it. Escape closes it, and nothing else. */
export function SmallCard({ content, placement, children }: Props) {
  const [open, setOpen] = useState(false);
  useEscape(open, () => setOpen(false));
  return (
    <Popover content={content} trigger="click" placement={placement} open={open} onOpenChange={setOpen} destroyOnHidden>
      {children}
    </Popover>
  );
}
