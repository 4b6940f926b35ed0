declare module 'libheif-js/libheif-wasm/libheif-bundle.mjs' {
  import type { HeifLibrary } from '@/workers/decoding/heif';
  const create: (options: object) => HeifLibrary;
  export default create;
}

/** Reads while it is waited for, as decoders do that know no waiting (File API, section 6.5); only in workers. */
declare class FileReaderSync {
  readAsArrayBuffer(blob: Blob): ArrayBuffer;
}
