// Hands out the files of the demo archive from `.demo/`. 404 where the server was started without demo data.

import { readFile } from 'node:fs/promises';
import path from 'node:path';
import { NextResponse } from 'next/server';

const ROOT = path.join(process.cwd(), '.demo');

export async function GET(
  _request: Request,
  { params }: { params: Promise<{ path: string[] }> },
): Promise<NextResponse> {
  if (process.env.WEMBO_DEMO !== '1') return new NextResponse(null, { status: 404 });
  const wanted = path.resolve(ROOT, ...(await params).path);
  if (!wanted.startsWith(ROOT + path.sep)) return new NextResponse(null, { status: 404 });
  try {
    return new NextResponse(new Uint8Array(await readFile(wanted)), {
      headers: { 'Content-Type': 'application/octet-stream', 'Cache-Control': 'no-store' },
    });
  } catch {
    return new NextResponse(null, { status: 404 });
  }
}
