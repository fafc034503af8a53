// Days are ISO 8601 dates as text, months their first seven characters.

const noon = (day: string) => new Date(`${day}T12:00:00Z`);
const iso = (d: Date) => d.toISOString().slice(0, 10);

// add gives the day so many days after another one.
export function add(day: string, n: number) {
  const d = noon(day);
  d.setUTCDate(d.getUTCDate() + n);
  return iso(d);
}

export const monthOf = (day: string) => day.slice(0, 7);

// monthsApart gives the month so many months after another one.
export function monthsApart(month: string, n: number) {
  const d = noon(`${month}-01`);
  d.setUTCMonth(d.getUTCMonth() + n);
  return monthOf(iso(d));
}

// sheetOf gives the weeks that a month lies in, Monday first: always six, so that
// turning to another month moves nothing.
export function sheetOf(month: string): string[][] {
  let day = `${month}-01`;
  day = add(day, -((noon(day).getUTCDay() + 6) % 7));
  const weeks: string[][] = [];
  while (weeks.length < 6) {
    weeks.push(Array.from({ length: 7 }, (_, i) => add(day, i)));
    day = add(day, 7);
  }
  return weeks;
}
