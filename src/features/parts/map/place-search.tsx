'use client';

import { AutoComplete } from 'antd';
import { useEffect, useState } from 'react';
import { parseCoordinates } from '@/core/geo/coordinates';
import type { LatLon } from '@/core/geo/position';
import { type FoundPlace, searchPlaces } from './places-client';

/** Where to, with the words of the place where it was found by its name. */
export type GoneTo = LatLon & Partial<Pick<FoundPlace, 'city' | 'province' | 'country' | 'countryCode'>>;

/** Coordinates in any notation, or a place by its name. */
export function PlaceSearch({ label, near, onGo }: { label: string; near: LatLon | null; onGo: (to: GoneTo) => void }) {
  const [typed, setTyped] = useState('');
  const [found, setFound] = useState<FoundPlace[]>([]);
  const position = parseCoordinates(typed);
  useEffect(() => {
    if (typed.trim().length < 2 || position) {
      setFound([]);
      return;
    }
    let current = true;
    const timer = setTimeout(
      () =>
        void searchPlaces(typed, near).then(
          (places) => current && setFound(places),
          () => current && setFound([]),
        ),
      150,
    );
    return () => {
      current = false;
      clearTimeout(timer);
    };
    // eslint-disable-next-line react-hooks/exhaustive-deps
  }, [typed]);
  const go = (to: GoneTo) => {
    setTyped('');
    onGo(to);
  };
  const options = position
    ? [{ value: '0', label: `${position.lat}, ${position.lon}`, to: position as GoneTo }]
    : found.map((place, at) => ({
        value: String(at),
        label: [place.city, place.province, place.country].filter(Boolean).join(', '),
        to: {
          lat: place.lat,
          lon: place.lon,
          city: place.city,
          province: place.province,
          country: place.country,
          countryCode: place.countryCode,
        } as GoneTo,
      }));
  return (
    <AutoComplete
      value={typed}
      options={options}
      onChange={(value: string) => setTyped(value)}
      aria-label={label}
      placeholder="place, position"
      style={{ width: '100%' }}
      defaultActiveFirstOption
      onSelect={(_: string, option: (typeof options)[number]) => go(option.to)}
      notFoundContent={
        typed.trim().length >= 2 && !position
          ? 'No place of that name; coordinates can be typed in any notation.'
          : null
      }
    />
  );
}
