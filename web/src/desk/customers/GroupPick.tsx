import { useQuery } from "@tanstack/react-query";
import { Select } from "antd";
import { useTranslation } from "react-i18next";
import { api, take } from "../../shared/api/client";
import { Trouble } from "../../shared/Trouble";
import { useChange } from "../../shared/useChange";

type Props = { email: string; group?: string };

// groupsAsked is how all groups are asked for.
export const groupsAsked = { queryKey: ["groups"], queryFn: () => take(api.GET("/api/desk/groups")) };

// GroupPick puts a customer into a group, whose prices they see once they sign in, or out
// of it.
export function GroupPick({ email, group }: Props) {
  const { t } = useTranslation();
  const groups = useQuery(groupsAsked);
  const list = groups.data ?? [];
  const now = list.find((g) => g.name === group);
  const put = useChange({
    send: (id: number) => {
      const body = { emails: [email] };
      return id === 0 && now
        ? take(api.DELETE("/api/desk/groups/{id}/members", { params: { path: { id: now.id } }, body }))
        : take(api.POST("/api/desk/groups/{id}/members", { params: { path: { id } }, body }));
    },
    refreshes: ["customer", "groups"],
  });
  if (list.length === 0) return null;
  return (
    <section className="sheet stack">
      <h3>{t("Group")}</h3>
      <Select
        aria-label={t("Group")}
        value={now?.id ?? 0}
        loading={put.busy}
        onChange={(id) => put.send(id)}
        options={[
          { value: 0, label: t("of no group") },
          ...list.map((g) => ({ value: g.id, label: g.name })),
        ]}
      />
      <Trouble error={put.problem} />
    </section>
  );
}
