// The look, as Ant Design tokens; the same values stand as CSS variables in `app/globals.css` for our own parts.

import type { ThemeConfig } from 'antd';
import { theme as antd } from 'antd';

const shared = {
  borderRadius: 3,
  borderRadiusSM: 3,
  borderRadiusLG: 3,
  fontFamily: "'IBM Plex Sans', sans-serif",
  fontFamilyCode: "'IBM Plex Mono', monospace",
  fontSize: 13,
  controlHeight: 28,
  controlHeightSM: 22,
  paddingXS: 6,
  boxShadow: 'none',
  boxShadowSecondary: '0 2px 10px rgb(0 0 0 / 12%)',
  wireframe: false,
  motion: false,
};

const components: ThemeConfig['components'] = {
  Tree: { nodeSelectedBg: 'var(--accent-soft)', nodeSelectedColor: 'var(--ink)' },
  Button: { primaryShadow: 'none', defaultShadow: 'none', dangerShadow: 'none', fontWeight: 400 },
};

export const lightTheme: ThemeConfig = {
  components,
  token: {
    ...shared,
    colorPrimary: '#0E5A67',
    colorInfo: '#0E5A67',
    colorLink: '#0E5A67',
    colorSuccess: '#5E7A2F',
    colorWarning: '#8F6414',
    colorError: '#B04018',
    colorText: '#1E2427',
    colorTextSecondary: '#4E585D',
    colorTextDescription: '#4E585D',
    colorTextPlaceholder: '#697378',
    colorBgBase: '#F7F7F5',
    colorBgContainer: '#FFFFFF',
    colorBgLayout: '#E9E9E7',
    colorBorder: '#C2C2BD',
    colorBorderSecondary: '#D3D3CF',
  },
};

export const darkTheme: ThemeConfig = {
  components,
  algorithm: antd.darkAlgorithm,
  token: {
    ...shared,
    colorPrimary: '#5FB2C0',
    colorInfo: '#5FB2C0',
    colorLink: '#7CC4D0',
    colorSuccess: '#9DBB68',
    colorWarning: '#D9A94A',
    colorError: '#F0855A',
    colorBgBase: '#232729',
    colorBgContainer: '#2B3033',
    colorBgLayout: '#1B1F21',
    colorText: '#E4E7E7',
    colorTextSecondary: '#B4BCBF',
    colorTextDescription: '#B4BCBF',
    colorTextPlaceholder: '#9DA7AB',
    colorBorder: '#4A5356',
    colorBorderSecondary: '#3A4245',
    colorTextLightSolid: '#10171A',
  },
};
