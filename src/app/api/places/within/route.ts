// Names for the labels of a map.

import { NextResponse } from 'next/server';
import { z } from 'zod';
import { gazetteer } from '@/server/gazetteer';

const degrees = (limit: number) => z.coerce.number().min(-limit).max(limit);
const order = z.object({
  south: degrees(90),
  west: degrees(180),
  north: degrees(90),
  east: degrees(180),
  limit: z.coerce.number().int().min(1).max(1000),
});

export async function GET(request: Request): Promise<NextResponse> {
  const parsed = order.safeParse(Object.fromEntries(new URL(request.url).searchParams));
  if (!parsed.success) return NextResponse.json({ error: z.prettifyError(parsed.error) }, { status: 400 });
  const { limit, ...box } = parsed.data;
  return NextResponse.json({
    places: (await gazetteer()).within(box, limit).map(({ city, lat, lon }) => ({ name: city, lat, lon })),
  });
}
