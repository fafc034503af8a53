// plainly writes a kept answer in short.
export function plainly(answer: unknown): string {
  if (Array.isArray(answer)) return answer.map(plainly).join(", ");
  if (typeof answer === "object" && answer !== null) return Object.values(answer).map(plainly).join(", ");
  return String(answer);
}
