import { createContext, use } from "react";

import { shortDay } from "../../format/dates";
import { money } from "../../format/money";

/** How this reconciliation's amounts and days are written. */
export interface Writing {
  amount: (minor: number) => string;
  day: (iso: string) => string;
}

export function writing(currency: string, locale: string, year: string): Writing {
  return {
    amount: (minor) => money(minor, currency, locale),
    day: (iso) => shortDay(iso, locale, year),
  };
}

export const WritingContext = createContext<Writing>(writing("USD", "en-US", ""));

export function useWriting(): Writing {
  return use(WritingContext);
}
