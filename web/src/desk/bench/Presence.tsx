import { useQuery } from "@tanstack/react-query";
import { Button } from "antd";
import { useState } from "react";
import { useTranslation } from "react-i18next";
import { api, take } from "../../shared/api/client";
import { randomName } from "../../shared/name";

// windowName names this window; a reload keeps the name.
function windowName() {
  const name = sessionStorage.getItem("ruvo.window") ?? randomName();
  sessionStorage.setItem("ruvo.window", name);
  return name;
}

// usePresence tells the server that this window has the product open, and asks
// who else has.
function usePresence(id: number) {
  const [window] = useState(windowName);
  const presence = useQuery({
    queryKey: ["presence", id, window],
    queryFn: () =>
      take(api.POST("/api/desk/products/{id}/presence/{window}", { params: { path: { id, window } } })),
    refetchInterval: 4_000,
    staleTime: 0,
    gcTime: 0,
    retry: false,
  });
  return presence.data;
}

type Props = {
  id: number;
  // the version of the draft that is shown, once it is kept
  version: number | undefined;
  reload: () => void;
};

// Presence tells who else has the product open, and that they changed it. What
// comes by itself pushes nothing away from who aims at it: it stands at the
// foot.
export function Presence({ id, version, reload }: Props) {
  const { t } = useTranslation();
  const presence = usePresence(id);
  if (!presence) return null;
  return (
    <div className="bench-told">
      {presence.others.length > 0 && (
        <div className="notice attention" role="status">
          {t("{{names}} has this product open too. Nothing is overwritten; whoever keeps last is told.", {
            names: presence.others.join(", "),
          })}
        </div>
      )}
      {version !== undefined && presence.version > version && (
        <div className="notice attention row" role="status">
          <span className="grow">
            {t("{{name}} changed this draft meanwhile.", { name: presence.author || t("Somebody") })}
          </span>
          <Button onClick={reload}>{t("Look at the newer state")}</Button>
        </div>
      )}
    </div>
  );
}
