import { useRef, useState } from "react";
import { api, type Schemas, take } from "../../shared/api/client";
import { type Draft, touched } from "./draft";
import { useKeeping } from "./useKeeping";

const pause = 1500; // milliseconds that part two undoings

// useDraft keeps a product's draft on the server while it changes, and goes
// back and forward along the states that the server keeps.
export function useDraft(start: Schemas["DeskProduct"]) {
  const [product, setProduct] = useState(start);
  const newest = useRef(start);
  const version = useRef(start.version);
  // Whether what is typed continues what was kept last.
  const continues = useRef(false);
  const k = useKeeping<Draft>(start.draft, async (draft) => {
    // What is typed while this is sent continues it, unless it begins anew.
    const continued = continues.current;
    continues.current = true;
    try {
      arrived(
        await take(
          api.PUT("/api/desk/products/{id}/draft", {
            params: { path: { id: start.id } },
            body: { version: version.current, draft, continues: continued },
          }),
        ),
      );
    } catch (problem) {
      continues.current &&= continued;
      throw problem;
    }
  });
  const arrived = (p: Schemas["DeskProduct"]) => {
    version.current = p.version;
    newest.current = p;
    setProduct(p);
  };

  // What is typed into one place without a pause is undone in one piece; a
  // pause, another place, or something moved, added or taken begins a new one.
  const typedAt = useRef(0);
  const typedIn = useRef("");
  const change = (next: Draft) => {
    const now = Date.now();
    const place = touched(k.value, next);
    if (now - typedAt.current > pause || place === "" || place !== typedIn.current) {
      // What was typed before is a piece of its own.
      if (k.pending()) k.keep();
      continues.current = false;
    }
    typedAt.current = now;
    typedIn.current = place;
    k.setValue(next);
  };

  const travel = (direction: "undo" | "redo") =>
    k.whenKept(async () => {
      const possible = direction === "undo" ? newest.current.can_undo : newest.current.can_redo;
      if (!possible) return;
      k.setKept({ state: "keeping" });
      try {
        const p = await take(
          api.POST("/api/desk/products/{id}/draft/{direction}", {
            params: { path: { id: start.id, direction } },
            body: { version: version.current },
          }),
        );
        continues.current = false;
        typedAt.current = 0;
        // What was typed meanwhile stays, and is kept as the next change.
        if (!k.pending()) k.arrived(p.draft);
        arrived(p);
        k.setKept({ state: "kept" });
      } catch (problem) {
        k.setKept({ state: "refused", problem });
      }
    });
  return {
    product,
    setProduct: arrived,
    draft: k.value,
    change,
    travel,
    dirty: k.dirty,
    canUndo: k.dirty || product.can_undo,
    canRedo: !k.dirty && product.can_redo,
    kept: k.kept,
    keep: k.keep,
    whenKept: k.whenKept,
    version,
  };
}
