import { hostServer } from '@/server/host/host-server';

export const POST = (request: Request): Promise<Response> => hostServer().bytes(request);
