'use client';

// Where photos went: each name under which some were sent out, with how many, and the record of each time.

import { Button, Popover } from 'antd';
import { useLive } from '@/storage/catalog/live';
import { photos } from '@/ui/format';
import { openMore } from '@/ui/open-more';
import { session } from '@/engine/session';
import styles from './shelves.module.css';
import { ShelfLine, Shelf } from './shelf';
import { useFacet } from '@/features/parts/search/use-facets';
import { plain } from '@/core/text/fold';

export function DeliveryShelf() {
  const deliveries =
    useLive(async () =>
      (await session.db.deliveries.toArray())
        .filter(({ deleted }) => !deleted)
        .sort((a, b) => (a.date < b.date ? 1 : -1)),
    ) ?? [];
  const { values, chosen, toggle } = useFacet('sent');
  if (deliveries.length === 0) return null;
  return (
    <Shelf name="deliveries" title="Where it went">
      {values.map(({ value, count }) => {
        const times = deliveries.filter(({ name }) => plain(name) === plain(value));
        return (
          <div key={value} className={styles.collection} onContextMenu={openMore}>
            <ShelfLine
              name={value}
              number={count}
              chosen={chosen.any.includes(value)}
              remark={times[0]?.date}
              onClick={() => toggle(value)}
            />
            <Popover
              trigger="click"
              placement="rightTop"
              destroyOnHidden
              title={`Sent to “${value}”`}
              content={
                <ul className={styles.times}>
                  {times.map((one) => (
                    <li key={one.id}>
                      <span className="mono">{one.date}</span> {photos(one.photoIds.length)}
                      {one.note && <span className="quiet"> · {one.note}</span>}{' '}
                      <Button
                        size="small"
                        type="link"
                        onClick={() => void session.changeKept('deliveries', one, { deleted: true })}
                      >
                        Take back
                      </Button>
                    </li>
                  ))}
                </ul>
              }
            >
              <Button
                size="small"
                type="text"
                className={styles.more}
                aria-label={`When “${value}” was sent`}
                data-more
              >
                ⋯
              </Button>
            </Popover>
          </div>
        );
      })}
    </Shelf>
  );
}
