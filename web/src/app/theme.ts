import { theme, type ThemeConfig } from 'antd'

/** Music paper, ink and bread. The same values stand as CSS variables in shared/ui/base.css. */
export const light = {
  ground: '#f7f1e5',
  surface: '#fffcf5',
  ink: '#211c18',
  muted: '#655a4f',
  line: '#dccfb8',
  deep: '#17505a',
  warm: '#a84e22',
  wrong: '#a3302a',
}

export const dark = {
  ground: '#1b1815',
  surface: '#26211c',
  ink: '#f0e7d7',
  muted: '#b5a896',
  line: '#453c32',
  deep: '#86c5c9',
  warm: '#e6a06b',
  wrong: '#e58a7f',
}

export function crumbTheme(isDark: boolean): ThemeConfig {
  const c = isDark ? dark : light
  return {
    algorithm: isDark ? theme.darkAlgorithm : theme.defaultAlgorithm,
    token: {
      colorPrimary: c.deep,
      colorLink: c.deep,
      colorInfo: c.deep,
      colorSuccess: c.deep,
      colorError: c.wrong,
      colorSuccessBg: c.surface,
      colorSuccessBorder: c.deep,
      colorBgBase: c.ground,
      colorBgContainer: c.surface,
      colorBgElevated: c.surface,
      colorBgLayout: c.ground,
      colorTextBase: c.ink,
      colorTextSecondary: c.muted,
      colorTextDescription: c.muted,
      colorTextPlaceholder: c.muted,
      colorBorder: c.line,
      colorBorderSecondary: c.line,
      colorTextLightSolid: isDark ? c.ground : '#ffffff',
      borderRadius: 4,
      fontFamily: "'Alegreya Sans', sans-serif",
      fontSize: 16,
      controlHeight: 38,
      lineWidth: 1,
      boxShadow: 'none',
      boxShadowSecondary: '0 6px 24px rgb(33 28 24 / 18%)',
    },
    components: {
      Button: { primaryShadow: 'none', defaultShadow: 'none', fontWeight: 500 },
      Segmented: { itemSelectedBg: c.deep, itemSelectedColor: isDark ? c.ground : '#ffffff', trackBg: c.ground },
    },
  }
}
