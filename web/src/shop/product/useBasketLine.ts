import { useEffect, useState } from "react";
import { useNavigate, useSearchParams } from "react-router";
import type { Schemas } from "../../shared/api/client";
import { randomName } from "../../shared/name";
import { begin } from "../../shared/questions/begin";
import { useKept } from "../../shared/useKept";
import { type Entry, forget, useBasket } from "../keep";
import { type Chosen, nothing, type Typed, taken } from "./useChoosing";

// useBasketLine keeps what is typed on a product's page: a line of the basket in
// the making, or one that is being changed. It outlives a reload.
export function useBasketLine(page: Schemas["ProductPage"]) {
  const navigate = useNavigate();
  const [basket, setBasket] = useBasket();
  const [params, setParams] = useSearchParams();
  const editing = basket.find((e) => e.id === params.get("line"));
  const kept = editing ? `ruvo.line.${editing.id}` : `ruvo.typed.${page.slug}`;
  const [start] = useState(() => {
    const typed = (e: Entry): Typed => ({ quantity: e.quantity, answers: e.answers, later: e.later ?? [] });
    if (!editing) return { ...nothing, answers: begin(page.questions, params) };
    const children = basket.filter((e) => e.of === editing.id);
    return { ...typed(editing), addOns: Object.fromEntries(children.map((e) => [e.product, typed(e)])) };
  });
  const [input, setInput] = useKept<Chosen>(kept, start);
  // Whether something had been typed here before the page was opened.
  const [came] = useState(() => editing !== undefined || input !== start);
  const [touched, setTouched] = useState<Set<string>>(new Set());
  // A link followed later brings its values too.
  useEffect(() => {
    const came = begin(
      page.questions.filter((q) => q.kind === "link_value"),
      params,
    );
    if (Object.keys(came).length > 0) setInput((old) => ({ ...old, answers: { ...old.answers, ...came } }));
  }, [page, params, setInput]);
  const answer = (key: string, value: unknown) => {
    setTouched(new Set(touched).add(key));
    setInput((old) => {
      const answers = { ...old.answers };
      if (value === null) delete answers[key];
      else answers[key] = value;
      return { ...old, answers };
    });
  };
  const defer = (key: string, on: boolean) =>
    setInput((old) => ({
      ...old,
      later: on ? [...old.later.filter((k) => k !== key), key] : old.later.filter((k) => k !== key),
    }));
  // What came with the link is left out of the address too, or it would come
  // back with a reload.
  const without = (key: string) => {
    answer(key, null);
    setParams(
      (old) => {
        old.delete(`q.${key}`);
        return old;
      },
      { replace: true },
    );
  };
  const putIn = () => {
    const { addOns, ...main } = input;
    const id = editing?.id ?? randomName();
    const line: Entry = { id, product: page.slug, edition: page.edition, ...main };
    const children: Entry[] = taken(page, input).map((slug) => ({
      id: randomName(),
      of: id,
      product: slug,
      edition: page.add_ons?.find((a) => a.page.slug === slug)?.page.edition,
      ...(addOns?.[slug] ?? nothing),
    }));
    setBasket((old) => {
      if (!editing) return [...old, line, ...children];
      const others = old.filter((e) => e.of !== id);
      return others.flatMap((e) => (e.id === id ? [line, ...children] : [e]));
    });
    forget(kept);
    navigate("/basket");
  };
  return { input, setInput, answer, defer, without, putIn, touched, came, editing: editing !== undefined };
}
