import type { Metadata } from "next";
import { cookies, headers } from "next/headers";
import type { ReactNode } from "react";
import { LOOK_COOKIE, lookStyle, readLook, writeLook } from "@/core/house/look";
import { app } from "@/server/app/context";
import { NONCE } from "@/server/app/http/page-policy";
import { HOLD_EARLY_KEY } from "@/ui/focus/early-key";
import { Providers } from "@/ui/frame/providers";
import { meOf, signedIn } from "./visitor";
import "./globals.css";

/** Every page depends on who asks; none may be made, or the installation opened, while building. */
export const dynamic = "force-dynamic";

export const metadata: Metadata = { title: { default: "Earnest Lens", template: "%s · Earnest Lens" } };

export default async function Layout({ children }: { children: ReactNode }) {
  const nonce = (await headers()).get(NONCE) ?? undefined;
  const installation = await app();
  const person = await signedIn();
  // Where none was chosen it is as the system has it.
  const jar = await cookies();
  const chosen = jar.get("lens_theme")?.value;
  const look = readLook(jar.get(LOOK_COOKIE)?.value);
  const theme = chosen === "night" || chosen === "paper" ? chosen : undefined;
  return (
    <html lang="en" data-theme={theme} data-look={writeLook(look)} style={lookStyle(look)}>
      <body>
        {/* The browser hides a nonce from scripts, so that it is never what was sent. */}
        <script nonce={nonce} suppressHydrationWarning>
          {HOLD_EARLY_KEY}
        </script>
        <Providers
          nonce={nonce}
          mail={installation.settings.mailStandIn}
          look={writeLook(look)}
          owner={person?.id ?? ""}
          me={person && (await meOf(installation, person))}
        >
          {children}
        </Providers>
      </body>
    </html>
  );
}
