'use client';

import { Input } from 'antd';
import { useId, useState } from 'react';
import { NAME_LENGTH } from '@/core/catalog/saved';
import { count } from './format';

export interface NameInputProps {
  label: string;
  placeholder?: string;
  start?: string;
  /** Hears the name when it is entered, never one that could not be kept. */
  onName: (name: string) => void;
  onCancel?: () => void;
  /** Also when the focus leaves it. */
  onBlur?: boolean;
}

/** Asks for a name; one that the files on the drives would not take is said at once, and is not let go. */
export function NameInput({
  label,
  placeholder = 'Name',
  start = '',
  onName,
  onCancel,
  onBlur = false,
}: NameInputProps) {
  const [name, setName] = useState(start);
  const id = useId();
  const isTooLong = name.trim().length > NAME_LENGTH;
  const enter = () => name.trim() !== '' && !isTooLong && onName(name.trim());
  return (
    <>
      <Input
        autoFocus={!onBlur}
        aria-label={label}
        placeholder={placeholder}
        value={name}
        status={isTooLong ? 'error' : ''}
        suffix={onBlur ? null : '⏎'}
        aria-describedby={isTooLong ? id : undefined}
        onChange={({ target }) => setName(target.value)}
        onPressEnter={enter}
        onBlur={() => onBlur && enter()}
        onKeyDown={(event) => event.key === 'Escape' && onCancel?.()}
      />
      {isTooLong && (
        <p id={id} className="problem" role="alert">
          The name has {count(name.trim().length)} letters; at most {count(NAME_LENGTH)} can be kept. Shorten it and
          press Enter.
        </p>
      )}
    </>
  );
}
