// The few things of the platform that the core may use: decoding and encoding text.
// Everything else (files, clocks, digests, randomness) is handed in.

declare class TextDecoder {
  constructor(label?: string, options?: { fatal?: boolean; ignoreBOM?: boolean });
  decode(input?: Uint8Array): string;
}

declare class TextEncoder {
  encode(input?: string): Uint8Array<ArrayBuffer>;
}
