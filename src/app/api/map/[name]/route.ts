// Land and borders at 1:10 million and 1:50 million, as the package world-atlas has them (Natural Earth, public domain;
// TopoJSON).

import { readFile } from 'node:fs/promises';
import path from 'node:path';

export const dynamic = 'force-static';

const NAMES = ['countries-10m.json', 'countries-50m.json'];

export const generateStaticParams = () => NAMES.map((name) => ({ name }));

export async function GET(_: Request, { params }: { params: Promise<{ name: string }> }): Promise<Response> {
  const { name } = await params;
  if (!NAMES.includes(name)) return new Response(null, { status: 404 });
  return new Response(new Uint8Array(await readFile(path.join(process.cwd(), 'node_modules', 'world-atlas', name))), {
    headers: { 'content-type': 'application/json' },
  });
}
