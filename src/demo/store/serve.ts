// Starts the stand-in of a store beside the demo. Usage: tsx src/demo/store/serve.ts FOLDER PORT, the keys in WEMBO_STORE.

import { StoreStandIn } from './stand-in';

const [folder, port] = process.argv.slice(2);
if (!folder || !port || !process.env.WEMBO_STORE) throw new Error('FOLDER, PORT and WEMBO_STORE are needed');
const { bucket, accessKeyId, secretAccessKey } = JSON.parse(process.env.WEMBO_STORE) as Record<string, string>;
await new StoreStandIn(folder, {
  bucket: bucket ?? '',
  accessKeyId: accessKeyId ?? '',
  secretAccessKey: secretAccessKey ?? '',
}).start(Number(port));
