import { useQuery } from "@tanstack/react-query";
import { useTranslation } from "react-i18next";
import { Link, useSearchParams } from "react-router";
import { api, take } from "../../shared/api/client";
import { useHere } from "../here";
import { BySteps } from "./BySteps";
import { NewItem } from "./NewItem";
import { Plan } from "./Plan";

export type Way = "day" | "person" | "step" | "mine";

export function Work() {
  const { t } = useTranslation();
  const { today } = useHere();
  const [params] = useSearchParams();
  const by = (params.get("by") ?? "day") as Way;
  const load = useLoad();
  return (
    <main className="desk-page wide">
      <div className="row">
        <h1 className="grow">{t("Work")}</h1>
        <Link to="/work/learned">{t("How long it takes")}</Link>
        <Link to="/work/handover">{t("Hand over")}</Link>
        <NewItem people={load.data?.people ?? []} today={today} />
        <Ways by={by} />
      </div>
      {by === "step" ? <BySteps /> : load.isPending ? null : <Plan by={by} load={load.data} />}
    </main>
  );
}

// useLoad asks how the waiting work fills the hours of people.
export function useLoad() {
  return useQuery({ queryKey: ["load"], queryFn: () => take(api.GET("/api/desk/load")) });
}

// Ways switches between the ways to look at work.
export function Ways({ by }: { by: Way }) {
  const { t } = useTranslation();
  const way = (to: Way, words: string) => (
    <Link to={to === "day" ? "/work" : `/work?by=${to}`} aria-current={by === to || undefined}>
      {words}
    </Link>
  );
  return (
    <nav className="ways" aria-label={t("Look at work")}>
      {way("day", t("By day"))}
      {way("person", t("By person"))}
      {way("step", t("By step"))}
      {way("mine", t("Mine"))}
    </nav>
  );
}
