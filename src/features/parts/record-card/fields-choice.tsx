'use client';

import { Button, Checkbox, Input, Select } from 'antd';
import { useState } from 'react';
import { WRITTEN_FIELDS, type FieldKey } from '@/core/fields/registry';
import { SmallCard } from '@/ui/small-card';
import {
  CHOOSABLE,
  type FieldsChoiceButton as Choice,
  GROUP_TITLES,
  USUAL,
  groupsInOrder,
  showField,
  useChosenFields,
} from './chosen-fields';
import styles from './record-card.module.css';

const CHOICES = WRITTEN_FIELDS.filter(({ group }) => group !== 'judgement').map(({ key, label, standardName }) => ({
  value: key,
  label: standardName === label ? label : `${label} (${standardName})`,
}));
const ofUsual = (usual: boolean) => CHOICES.filter(({ value }) => USUAL.has(value) === usual);

/** Which groups and fields the card shows, and the choices kept for kinds of work. */
export function FieldsChoice() {
  const { groups, more, fewer, kept } = useChosenFields();
  const [name, setName] = useState('');
  const keep = () => {
    if (name.trim() === '') return;
    useChosenFields.setState({
      kept: [...kept.filter((one) => one.name !== name.trim()), { name: name.trim(), groups, more, fewer }],
    });
    setName('');
  };
  const take = ({ groups: ofKind, more: besides, fewer: without }: Choice) =>
    useChosenFields.setState({ groups: ofKind, more: besides, fewer: without });
  const content = (
    <div className={styles.choices}>
      {kept.length > 0 && (
        <ul className={styles.kinds} aria-label="Kinds of work">
          {kept.map((kind) => (
            <li key={kind.name}>
              <Button size="small" onClick={() => take(kind)}>
                {kind.name}
              </Button>
              <Button
                size="small"
                type="text"
                onClick={() => useChosenFields.setState({ kept: kept.filter((one) => one !== kind) })}
                aria-label={`Forget “${kind.name}”`}
              >
                ×
              </Button>
            </li>
          ))}
        </ul>
      )}
      <Checkbox.Group
        className={styles.choices}
        options={CHOOSABLE.map((group) => ({ value: group, label: GROUP_TITLES[group] }))}
        value={groups}
        onChange={(chosen) => useChosenFields.setState({ groups: groupsInOrder(chosen) })}
        aria-label="Groups of fields on the card"
      />
      <label htmlFor="fields-more">Fields besides the usual</label>
      <Select<FieldKey[]>
        id="fields-more"
        mode="multiple"
        size="small"
        value={more}
        options={ofUsual(false)}
        showSearch={{ optionFilterProp: 'label' }}
        onChange={(chosen) => useChosenFields.setState({ more: chosen })}
      />
      <label htmlFor="fields-fewer">Usual fields that are not wanted while empty</label>
      <Select<FieldKey[]>
        id="fields-fewer"
        mode="multiple"
        size="small"
        value={fewer}
        options={ofUsual(true)}
        showSearch={{ optionFilterProp: 'label' }}
        onChange={(chosen) => useChosenFields.setState({ fewer: chosen })}
      />
      <div className={styles.keepKind}>
        <Input
          size="small"
          value={name}
          placeholder="name of the kind of work"
          aria-label="Name of the kind of work"
          onChange={({ target }) => setName(target.value)}
          onPressEnter={keep}
        />
        <Button size="small" disabled={name.trim() === ''} onClick={keep}>
          Keep
        </Button>
      </div>
    </div>
  );
  return (
    <>
      <SmallCard content={content} placement="topLeft">
        <Button size="small" type="text">
          Choose groups ({groups.length} of {CHOOSABLE.length})
        </Button>
      </SmallCard>
      <Select<FieldKey | null>
        size="small"
        variant="borderless"
        value={null}
        placeholder="find a field…"
        options={CHOICES}
        showSearch={{ optionFilterProp: 'label' }}
        popupMatchSelectWidth={300}
        aria-label="Find a field"
        onChange={(key) => key && showField(key)}
      />
    </>
  );
}
