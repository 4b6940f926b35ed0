'use client';

// The name of a field, with what belongs into it: shown when the pointer rests on the name, when it is tapped, and by
// F1 in the field.

import { Tooltip } from 'antd';
import { type KeyboardEvent, type ReactNode, useState } from 'react';

export interface FieldHelp {
  open: boolean;
  setOpen: (open: boolean) => void;
  /** For what holds name and field. */
  onKeyDown: (event: KeyboardEvent) => void;
}

export function useFieldHelp(): FieldHelp {
  const [open, setOpen] = useState(false);
  return {
    open,
    setOpen,
    onKeyDown: (event) => {
      if (event.key === 'F1') {
        event.preventDefault();
        setOpen(!open);
      } else if (event.key === 'Escape' || event.key === 'Tab') setOpen(false);
    },
  };
}

interface Props {
  help: FieldHelp;
  words: string;
  children: ReactNode;
}

export const HelpedName = ({ help: { open, setOpen }, words, children }: Props) => (
  <Tooltip
    title={<span role="status">{words}</span>}
    open={open}
    onOpenChange={setOpen}
    placement="left"
    mouseEnterDelay={0.6}
  >
    {/* a tap on the name goes into the field, and says what belongs there */}
    <span onPointerUp={({ pointerType }) => pointerType === 'touch' && setOpen(true)}>{children}</span>
  </Tooltip>
);
