import { wishedCurrency } from "../shared/api/client";
import { save } from "../shared/kept";

// see has all prices shown in a currency from now on: the whole page is priced
// anew.
export function see(currency: string) {
  save(wishedCurrency, currency);
  window.location.reload();
}
