// The signs of the rail and the top line, drawn for Wembo on a 24-unit grid with one stroke.

import type { ReactNode } from 'react';

const sign = (path: ReactNode, size = 20) =>
  function Sign() {
    return (
      <svg
        width={size}
        height={size}
        viewBox="0 0 24 24"
        fill="none"
        stroke="currentColor"
        strokeWidth="1.6"
        strokeLinecap="round"
        strokeLinejoin="round"
        aria-hidden
      >
        {path}
      </svg>
    );
  };

export const OverviewIcon = sign(<path d="M4 19V9l8-5 8 5v10M4 19h16M9 19v-6h6v6" />);
export const TakeInIcon = sign(
  <>
    <path d="M5 13v6h14v-6" />
    <path d="M12 4v11M8 11l4 4 4-4" />
  </>,
);
export const SiftIcon = sign(
  <>
    <path d="M3.5 6h17l-2.6 7.5H6.1z" />
    <path d="M8 9.8h8" strokeDasharray="1.4 2.2" />
    <path d="M9 17v.1M12 16v.1M15 17v.1M10.5 20v.1M13.5 20v.1" />
  </>,
);
export const DescribeIcon = sign(
  <>
    <path d="M5 5h14v14H5z" />
    <path d="M8 9h8M8 12.5h8M8 16h4" />
  </>,
);
export const LocateIcon = sign(
  <>
    <path d="M3.5 18.5c3-6 5-1 8-6s5 0 9-7" strokeDasharray="2.6 3" />
    <path d="M11.5 3.5v17M3.5 12h17" strokeWidth="1" />
  </>,
);
export const FindIcon = sign(
  <>
    <circle cx="10.5" cy="10.5" r="6" />
    <path d="M15 15l5 5" />
  </>,
);
export const SafekeepIcon = sign(
  <>
    <path d="M4 5h12v12H4z" />
    <path d="M8 20h12V9" />
  </>,
);
export const SendOutIcon = sign(
  <>
    <path d="M5 11v8h14v-8" />
    <path d="M12 15V4M8 8l4-4 4 4" />
  </>,
);
export const UndoIcon = sign(<path d="M9 6L4 11l5 5M4 11h10a6 6 0 0 1 6 6v1" />, 16);
export const RedoIcon = sign(<path d="M15 6l5 5-5 5M20 11H10a6 6 0 0 0-6 6v1" />, 16);
export const SunIcon = sign(
  <>
    <circle cx="12" cy="12" r="4" />
    <path d="M12 3v2M12 19v2M3 12h2M19 12h2M5.6 5.6l1.4 1.4M17 17l1.4 1.4M5.6 18.4L7 17M17 7l1.4-1.4" />
  </>,
  16,
);
export const MoonIcon = sign(<path d="M19 14.5A7.5 7.5 0 0 1 9.5 5a7.5 7.5 0 1 0 9.5 9.5z" />, 16);
export const DriveIcon = sign(
  <>
    <path d="M4 7h16v10H4z" />
    <path d="M16 13.5h1.5M7 10.5h6" />
  </>,
  16,
);
