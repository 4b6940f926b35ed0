'use client';

import { Alert, Button, Drawer, Input, Spin } from 'antd';
import { useEffect, useState } from 'react';
import type { Property } from '@/core/metadata/reading/properties';
import { count } from '@/ui/format';
import { useEscape } from '@/ui/keys';
import { session } from '@/engine/session';
import styles from './record-card.module.css';

type Listing =
  | { state: 'reading' }
  | { state: 'read'; properties: Property[] }
  | { state: 'away' }
  | { state: 'failed'; reason: string };

/** More rows than anyone reads at once; a search narrows them. */
const SHOWN_LIMIT = 1000;

/** Everything the image file says, raw and searchable, read anew from the file. */
export function PropertiesButton({ photoId }: { photoId: string }) {
  const [open, setOpen] = useState(false);
  useEscape(open, () => setOpen(false));
  return (
    <>
      <Button size="small" type="text" onClick={() => setOpen(true)}>
        All properties
      </Button>
      <Drawer title="Everything the file says" open={open} onClose={() => setOpen(false)} size={720} destroyOnHidden>
        <Properties photoId={photoId} />
      </Drawer>
    </>
  );
}

function Properties({ photoId }: { photoId: string }) {
  const [listing, setListing] = useState<Listing>({ state: 'reading' });
  const [sought, setSought] = useState('');
  useEffect(() => {
    let current = true;
    session
      .properties(photoId)
      .then((properties) => current && setListing(properties ? { state: 'read', properties } : { state: 'away' }))
      .catch(
        (error: unknown) =>
          current && setListing({ state: 'failed', reason: error instanceof Error ? error.message : String(error) }),
      );
    return () => {
      current = false;
    };
  }, [photoId]);
  if (listing.state === 'reading') return <Spin aria-label="Reading the file" />;
  if (listing.state === 'away')
    return <Alert type="info" title="The drives this photo is on are away. Connect one to see what its file says." />;
  if (listing.state === 'failed')
    return <Alert type="error" title={`The file could not be read (${listing.reason}).`} />;
  const word = sought.trim().toLowerCase();
  const found = listing.properties.filter(({ family, place, name, value }) =>
    `${family} ${place} ${name} ${value}`.toLowerCase().includes(word),
  );
  return (
    <div className={styles.properties}>
      <Input
        autoFocus
        value={sought}
        onChange={({ target }) => setSought(target.value)}
        placeholder="search names and values"
        aria-label="Search the properties"
        allowClear
      />
      <p className="quiet">
        {count(found.length)} of {count(listing.properties.length)}
        {found.length > SHOWN_LIMIT && `, the first ${count(SHOWN_LIMIT)} shown`}
      </p>
      <table>
        <thead>
          <tr>
            <th scope="col">Standard</th>
            <th scope="col">Where</th>
            <th scope="col">Name</th>
            <th scope="col">Value</th>
          </tr>
        </thead>
        <tbody>
          {found.slice(0, SHOWN_LIMIT).map(({ family, place, name, value }, index) => (
            <tr key={index}>
              <td>{family}</td>
              <td>{place}</td>
              <td>{name}</td>
              <td>{value}</td>
            </tr>
          ))}
        </tbody>
      </table>
    </div>
  );
}
