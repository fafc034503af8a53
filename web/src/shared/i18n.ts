import i18next from "i18next";
import { initReactI18next } from "react-i18next";
import de from "./words/de.json";
import en from "./words/en.json";

// English texts are their own keys; en.json holds only those that need forms
// for one and many. A language is a file beside it.
export const languages = { en: "English", de: "Deutsch" } as const;

const kept = localStorage.getItem("ruvo.language");
const wanted = kept ?? navigator.language.slice(0, 2);

i18next.use(initReactI18next).init({
  resources: { en: { translation: en }, de: { translation: de } },
  lng: wanted in languages ? wanted : "en",
  fallbackLng: "en",
  keySeparator: false,
  nsSeparator: false,
  interpolation: { escapeValue: false },
  initAsync: false,
  showSupportNotice: false,
});

const tell = (language: string) => {
  document.documentElement.lang = language;
};
tell(i18next.language);
i18next.on("languageChanged", tell);

export function speak(language: string) {
  localStorage.setItem("ruvo.language", language);
  i18next.changeLanguage(language);
}
