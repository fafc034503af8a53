import { createContext, useContext } from "react";

// CurrencyContext holds the currency of the draft that is edited.
export const CurrencyContext = createContext("EUR");

export const useCurrency = () => useContext(CurrencyContext);
