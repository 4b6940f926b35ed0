// The named places nearest to positions, one for each.

import { NextResponse } from 'next/server';
import { z } from 'zod';
import { gazetteer } from '@/server/gazetteer';

const order = z.object({
  positions: z.array(z.object({ lat: z.number().min(-90).max(90), lon: z.number().min(-180).max(180) })).max(20_000),
});

export async function POST(request: Request): Promise<NextResponse> {
  const parsed = order.safeParse(await request.json().catch(() => null));
  if (!parsed.success) return NextResponse.json({ error: z.prettifyError(parsed.error) }, { status: 400 });
  const places = await gazetteer();
  return NextResponse.json({ places: parsed.data.positions.map((position) => places.nearest(position)[0] ?? null) });
}
