import type { NextConfig } from 'next';

const config: NextConfig = {
  reactStrictMode: true,
  devIndicators: false,
  poweredByHeader: false,
  // the decoders' threads share their memory, which browsers allow only to pages that let nothing foreign in
  headers: async () => [
    {
      source: '/:path*',
      headers: [
        { key: 'Cross-Origin-Opener-Policy', value: 'same-origin' },
        { key: 'Cross-Origin-Embedder-Policy', value: 'require-corp' },
      ],
    },
  ],
  typescript: { ignoreBuildErrors: true }, // `npm run check` has its own, stricter pass
};

export default config;
