import i18next from "i18next";
import { digits } from "./currency";

// money writes minor units with the currency's sign: "€50.70".
export function money(minor: number, currency: string) {
  const n = digits(currency);
  return new Intl.NumberFormat(i18next.language, {
    style: "currency",
    currency,
    minimumFractionDigits: n,
    maximumFractionDigits: n,
  })
    .format(minor / 10 ** n)
    .replace("-", "−");
}

// plain writes minor units without a sign, as they stand in a slip.
export function plain(minor: number, currency: string) {
  const n = digits(currency);
  return new Intl.NumberFormat(i18next.language, {
    minimumFractionDigits: n,
    maximumFractionDigits: n,
  })
    .format(minor / 10 ** n)
    .replace("-", "−");
}

// typed writes minor units the way they are typed, without grouping.
export function typed(minor: number, places: number) {
  return (minor / 10 ** places).toFixed(places);
}

// minor reads an amount as people type it; undefined when it is none.
export function minor(text: string, places: number): number | undefined {
  const clean = text.replace(/[\s']/g, "").replace(",", ".");
  if (!/^\d{1,9}(\.\d*)?$/.test(clean)) return undefined;
  const [whole = "0", part = ""] = clean.split(".");
  if (part.length > places) return undefined;
  return Number(whole) * 10 ** places + Number(part.padEnd(places, "0") || 0);
}

// fine reads an amount that can lie below the smallest coin, in minor units
// with up to six digits more: 0.004 is 0.4 of a currency with two digits.
export function fine(text: string, places: number): number | undefined {
  const clean = text.replace(/[\s']/g, "").replace(",", ".");
  if (!/^\d{1,9}(\.\d*)?$/.test(clean)) return undefined;
  const [whole = "0", part = ""] = clean.split(".");
  if (part.length > places + 6) return undefined;
  const rest = part.slice(places);
  return Number(`${whole}${part.slice(0, places).padEnd(places, "0")}${rest ? `.${rest}` : ""}`);
}

// typedFine writes such an amount as people type it.
export function typedFine(minor: number, places: number) {
  const [whole = "0", rest = ""] = String(minor).split(".");
  const digits = whole.padStart(places + 1, "0");
  const cut = digits.length - places;
  const part = digits.slice(cut) + rest;
  return part === "" ? digits : `${digits.slice(0, cut)}.${part}`;
}

// plainFine writes an amount that can lie below the smallest coin, without its
// currency.
export function plainFine(minor: number, currency: string) {
  if (Number.isInteger(minor)) return plain(minor, currency);
  const places = digits(currency);
  return new Intl.NumberFormat(i18next.language, {
    minimumFractionDigits: places,
    maximumFractionDigits: places + 6,
  }).format(minor / 10 ** places);
}

// weekdays names the days of the week, each with its number from 0, Sunday, and
// Monday first.
export function weekdays(language: string) {
  const name = new Intl.DateTimeFormat(language, { weekday: "short", timeZone: "UTC" });
  return [1, 2, 3, 4, 5, 6, 0].map((value) => ({
    value,
    label: name.format(new Date(Date.UTC(2026, 10, 1 + value))), // a Sunday
  }));
}

const utc = (day: string) => new Date(`${day}T12:00:00Z`);

// day writes an ISO day in words: "Thu 26 Nov"; with the year when it is not
// the year of today.
export function day(iso: string, today: string) {
  const far = iso.slice(0, 4) !== today.slice(0, 4);
  return new Intl.DateTimeFormat(i18next.language === "en" ? "en-GB" : i18next.language, {
    weekday: "short",
    day: "numeric",
    month: "short",
    year: far ? "numeric" : undefined,
    timeZone: "UTC",
  })
    .format(utc(iso))
    .replace(/,/g, "");
}

// longDay writes an ISO day with the full names: "Thursday, 26 November".
export function longDay(iso: string) {
  return new Intl.DateTimeFormat(i18next.language === "en" ? "en-GB" : i18next.language, {
    weekday: "long",
    day: "numeric",
    month: "long",
    timeZone: "UTC",
  }).format(utc(iso));
}

// local gives the ISO day and the clock of an instant in a zone.
export function local(instant: string, zone: string): { day: string; time: string } {
  const parts = new Intl.DateTimeFormat("en-CA", {
    timeZone: zone,
    year: "numeric",
    month: "2-digit",
    day: "2-digit",
    hour: "2-digit",
    minute: "2-digit",
    hourCycle: "h23",
  }).formatToParts(new Date(instant));
  const of = (type: string) => parts.find((p) => p.type === type)?.value ?? "";
  return { day: `${of("year")}-${of("month")}-${of("day")}`, time: `${of("hour")}:${of("minute")}` };
}

// away tells how far a day is from today: "today", "tomorrow", "in 5 days".
export function away(iso: string, today: string) {
  const days = Math.round((utc(iso).getTime() - utc(today).getTime()) / 86_400_000);
  if (days === 0) return i18next.t("today");
  if (days > 0) return i18next.t("in {{count}} days", { count: days });
  return i18next.t("{{count}} days ago", { count: -days });
}

// span writes minutes as hours and minutes: "3 h 35 min".
export function span(minutes: number) {
  const h = Math.floor(minutes / 60);
  const m = minutes % 60;
  if (h === 0) return `${m} min`;
  return m === 0 ? `${h} h` : `${h} h ${m} min`;
}
