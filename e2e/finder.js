// What a person finds on a page: elements by their role and their name.
window.ruvo = (() => {
  const clean = (s) => (s || "").replace(/\s+/g, " ").trim();
  const visible = (e) => {
    if (e.matches("input[type=radio],input[type=checkbox]")) e = e.closest("label") || e;
    const r = e.getBoundingClientRect();
    return r.width > 0 && r.height > 0 && getComputedStyle(e).visibility !== "hidden" && !e.closest("[aria-hidden=true]");
  };
  const name = (e) => {
    if (e.getAttribute("aria-label")) return clean(e.getAttribute("aria-label"));
    const by = e.getAttribute("aria-labelledby");
    if (by && document.getElementById(by)) return clean(document.getElementById(by).textContent);
    if (e.labels && e.labels.length) return clean(e.labels[0].textContent);
    return clean(e.textContent) || clean(e.getAttribute("placeholder"));
  };
  const roles = {
    button: "button,[role=button],summary,a.ant-btn",
    link: "a[href]",
    field: "input:not([type=radio]):not([type=checkbox]),textarea",
    tick: "input[type=radio],input[type=checkbox]",
    list: "[role=combobox],.ant-select input",
    option: ".ant-select-item-option,[role=menuitem],.ant-segmented-item",
    heading: "h1,h2,h3",
    row: ".path-row",
    column: "th.ant-table-column-has-sorters,th.sorts button",
  };
  const find = (role, wanted, within) => {
    const root = within ? document.querySelector(within) : document;
    if (!root) return null;
    const all = [...root.querySelectorAll(roles[role])].filter(visible);
    return all.find((e) => name(e) === wanted) || all.find((e) => name(e).startsWith(wanted)) || all.find((e) => name(e).includes(wanted)) || null;
  };
  // spot gives where to press, once the element stands where it stood at the
  // last look, and nothing covers it.
  let stood = "";
  const spot = (role, wanted, within) => {
    let e = find(role, wanted, within);
    if (!e || e.disabled) return null;
    if (e.matches("input[type=radio],input[type=checkbox]")) e = e.closest("label") || e;
    // A list that draws only what is seen of it would move under the finger.
    e.scrollIntoView({ block: role === "option" ? "nearest" : "center", behavior: "instant" });
    // Words that go on in a next line have a box that holds more than they do.
    const r = e.getClientRects()[0] ?? e.getBoundingClientRect();
    const at = { x: r.x + r.width / 2, y: r.y + r.height / 2 };
    const hit = document.elementFromPoint(at.x, at.y);
    const before = stood;
    stood = `${role} ${wanted} ${within} ${at.x} ${at.y}`;
    if (stood !== before) return null;
    return hit && (e.contains(hit) || hit.contains(e) || e.closest(".ant-select")?.contains(hit)) ? at : null;
  };
  // watch notes whether the next press lands on what was meant. What arrives
  // from the server moves a page, and then a press meets something else, or
  // begins on one thing and ends on another, which is no click on either.
  let landed = null;
  const watch = (role, wanted, within) => {
    landed?.();
    let met = "nothing";
    const look = (press) => {
      let e = find(role, wanted, within);
      if (e?.matches("input[type=radio],input[type=checkbox]")) e = e.closest("label") || e;
      const r = e?.getBoundingClientRect();
      met =
        !e || (e.closest(".ant-select") || e).contains(press.target)
          ? ""
          : `${press.target.outerHTML.slice(0, 120)} at ${press.clientX} ${press.clientY}, while it stands at ${r.x} ${r.y} ${r.width} ${r.height}`;
    };
    const event = role === "list" ? "pointerdown" : "click"; // lists open at once
    document.addEventListener(event, look, { capture: true, once: true });
    landed = () => {
      document.removeEventListener(event, look, { capture: true });
      landed = null;
      return met;
    };
    return true;
  };
  const text = (within) => clean((within ? document.querySelector(within) : document.body)?.innerText);
  // fields gives what is typed, which the text of a page leaves out.
  const fields = () =>
    [...document.querySelectorAll(roles.field)].filter((e) => visible(e) && e.value).map((e) => `[${name(e)}: ${e.value}]`).join(" ");
  // until tells when something holds: it looks when the page changes, and now
  // and then, as what is typed and where things stand changes nothing that can
  // be observed.
  const until = (holds, ms) =>
    new Promise((tell) => {
      let timer = 0;
      let told = false; // what is looked at may change what it tells, so no look after that
      const end = Date.now() + ms;
      const look = () => {
        if (told) return;
        clearTimeout(timer);
        let met = false;
        try {
          met = holds();
        } catch {
          // what it reads is not there yet
        }
        if (!met && Date.now() < end) {
          timer = setTimeout(look, 60);
          return;
        }
        told = true;
        seen.disconnect();
        tell(met);
      };
      let due = false;
      const seen = new MutationObserver(() => {
        if (due) return;
        due = true;
        requestAnimationFrame(() => {
          due = false;
          look();
        });
      });
      seen.observe(document, { subtree: true, childList: true, characterData: true, attributes: true });
      look();
    });
  return { until, find, spot, watch, strayed: () => landed?.() ?? "", text, fields, value: (role, n, w) => find(role, n, w)?.value ?? null };
})();
