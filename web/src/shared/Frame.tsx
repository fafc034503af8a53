import "@fontsource-variable/atkinson-hyperlegible-next/wght.css";
import "@fontsource-variable/bricolage-grotesque/wght.css";
import "./base.css";
import { QueryClient, QueryClientProvider } from "@tanstack/react-query";
import { ConfigProvider, type ThemeConfig } from "antd";
import german from "antd/locale/de_DE";
import english from "antd/locale/en_US";
import i18next from "i18next";
import { type ReactNode, StrictMode } from "react";
import { createRoot } from "react-dom/client";
import { useTranslation } from "react-i18next";
import { BrowserRouter } from "react-router";
import { home } from "./home";
import "./i18n";
import { tidy } from "./kept";
import { Mishap } from "./Mishap";
import { lendNonce, nonce } from "./nonce";
import { palette, publishPalette } from "./palette";
import { Unreached } from "./Unreached";

const still = window.matchMedia("(prefers-reduced-motion: reduce)").matches;

const theme: ThemeConfig = {
  token: {
    colorPrimary: palette.action,
    colorLink: palette.action,
    colorInfo: palette.action,
    colorSuccess: palette.good,
    colorWarning: palette.attention,
    colorError: palette.bad,
    colorText: palette.ink,
    colorTextSecondary: palette.quiet,
    colorTextDescription: palette.quiet,
    colorTextPlaceholder: palette.quiet,
    colorBgLayout: palette.page,
    colorBgContainer: palette.surface,
    colorBorder: palette.edge,
    colorBorderSecondary: palette.line,
    borderRadius: 6,
    fontFamily: '"Atkinson Hyperlegible Next Variable", system-ui, sans-serif',
    fontSize: 15,
    controlHeight: 38,
    boxShadow: "none",
    boxShadowTertiary: "none",
    motion: !still,
    motionDurationFast: "0.08s",
    motionDurationMid: "0.12s",
    motionDurationSlow: "0.14s",
    wireframe: false,
  },
  components: {
    Button: { primaryShadow: "none", defaultShadow: "none", dangerShadow: "none", fontWeight: 600 },
    Input: { activeShadow: "none" },
    Table: {
      headerBg: palette.surface,
      headerColor: palette.quiet,
      headerSplitColor: "transparent",
      headerSortActiveBg: palette.shade,
      headerSortHoverBg: palette.shade,
      bodySortBg: palette.surface,
      rowHoverBg: palette.page,
    },
  },
};

const queries = new QueryClient({
  defaultOptions: { queries: { retry: 1, staleTime: 2_000, refetchOnWindowFocus: true } },
});

// What the server says is in the language it was asked in. A first question
// that is still on its way was asked in the old one, so it is asked anew.
i18next.on("languageChanged", async () => {
  await queries.cancelQueries();
  queries.invalidateQueries();
});

// What Ant Design says by itself, such as in an empty list.
const said: Record<string, typeof english> = { en: english, de: german };

// Look is the look that shop and desk share.
function Look({ children }: { children: ReactNode }) {
  const { i18n } = useTranslation();
  return (
    <ConfigProvider
      theme={theme}
      locale={said[i18n.language]}
      csp={{ nonce }}
      wave={{ disabled: true }}
      button={{ autoInsertSpace: false }}
    >
      {children}
    </ConfigProvider>
  );
}

// start puts an application on the page, in that look.
export function start(app: ReactNode, basename: string) {
  publishPalette(document.documentElement);
  lendNonce();
  tidy();
  const root = document.getElementById("root");
  if (!root) return;
  createRoot(root).render(
    <StrictMode>
      <Look>
        <QueryClientProvider client={queries}>
          <BrowserRouter basename={home + basename}>
            <Mishap>{app}</Mishap>
            <Unreached />
          </BrowserRouter>
        </QueryClientProvider>
      </Look>
    </StrictMode>,
  );
}
