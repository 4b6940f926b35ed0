import { Select } from 'antd';
import type { DriveRecord } from '@/storage/catalog/records';

/** One of some drives, by its name. */
export function DriveSelect({
  label,
  placeholder,
  drives,
  value,
  onChange,
  minWidth = 200,
}: {
  label: string;
  placeholder: string;
  drives: readonly DriveRecord[];
  value: string | null;
  onChange: (driveId: string) => void;
  minWidth?: number;
}) {
  return (
    <Select
      aria-label={label}
      size="small"
      placeholder={placeholder}
      style={{ minWidth }}
      value={value}
      onChange={onChange}
      options={drives.map(({ id, name }) => ({ value: id, label: name }))}
    />
  );
}
