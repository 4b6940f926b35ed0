// Places by name, those near a position first where one is given.

import { NextResponse } from 'next/server';
import { z } from 'zod';
import { gazetteer } from '@/server/gazetteer';

const order = z.object({
  q: z.string().max(200),
  lat: z.coerce.number().min(-90).max(90).optional(),
  lon: z.coerce.number().min(-180).max(180).optional(),
});

export async function GET(request: Request): Promise<NextResponse> {
  const parsed = order.safeParse(Object.fromEntries(new URL(request.url).searchParams));
  if (!parsed.success) return NextResponse.json({ error: z.prettifyError(parsed.error) }, { status: 400 });
  const { q, lat, lon } = parsed.data;
  return NextResponse.json({
    places: (await gazetteer()).search(q, 12, lat !== undefined && lon !== undefined ? { lat, lon } : null),
  });
}
