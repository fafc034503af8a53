import { createContext, useContext } from "react";

// TodayContext is the day it is at the business, as ISO 8601 writes it. What the
// browser's own clock and zone say is another matter.
export const TodayContext = createContext("");

// useToday gives the day it is at the business.
export const useToday = () => useContext(TodayContext);
