import { hostServer } from '@/server/host/host-server';

export const GET = (request: Request): Promise<Response> => hostServer().media(request);
