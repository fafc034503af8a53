// The currencies whose minor unit is not a hundredth, after ISO 4217; a test
// holds them against the core's table.
const none = "BIF CLP DJF GNF ISK JPY KMF KRW PYG RWF UGX VND VUV XAF XOF XPF".split(" ");
const thousandth = "BHD IQD JOD KWD LYD OMR TND".split(" ");

// digits gives how many digits a currency's minor unit has.
export function digits(currency: string) {
  if (none.includes(currency)) return 0;
  return thousandth.includes(currency) ? 3 : 2;
}
