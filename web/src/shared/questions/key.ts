// keyOf makes a key from a wording: "Title on the chart" becomes "title_on_the_chart".
// What is taken are other keys and the names of facts.
export function keyOf(wording: string, taken: string[]) {
  const base =
    wording
      .normalize("NFD")
      .toLowerCase()
      .replace(/[^a-z0-9]+/g, "_")
      .replace(/^[^a-z]+|_+$/g, "")
      .slice(0, 30) || "question";
  let key = base;
  for (let n = 2; taken.includes(key); n++) key = `${base}_${n}`;
  return key;
}
