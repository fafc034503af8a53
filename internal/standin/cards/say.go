package cards

// german are the pages' words for those who read German; the English ones are
// their own keys. They are the service's own, apart from Ruvo's.
var german = map[string]string{
	"Simulated payment service": "Simulierter Zahlungsdienst",
	"No money moves here.":      "Hier bewegt sich kein Geld.",
	"You pay":                   "Du zahlst",
	"held as security":          "als Sicherheit gehalten",
	"to":                        "an",
	"Card number":               "Kartennummer",
	"Last month":                "Letzter Monat",
	"Code on the back":          "Code auf der Rückseite",
	"Pay":                       "Zahlen",
	"Go back without paying":    "Zurück, ohne zu zahlen",
	"Your bank asks: do you want to pay this?": "Deine Bank fragt: Möchtest du das zahlen?",
	"Yes, pay":         "Ja, zahlen",
	"No, do not pay":   "Nein, nicht zahlen",
	"Back to the shop": "Zurück zum Laden",
	"This is paid.":    "Das ist bezahlt.",
	"This payment has ended. Nothing was paid.": "Diese Zahlung ist beendet. Es wurde nichts gezahlt.",
	"These cards are known here":                "Diese Karten kennt man hier",
	"any month to come, any three digits":       "ein beliebiger künftiger Monat, drei beliebige Ziffern",
	"works":                                     "geht",
	"is declined":                               "wird abgelehnt",
	"asks for a confirmation":                   "fragt nach einer Bestätigung",
	"This is no card number. Please look at the card again.":                   "Das ist keine Kartennummer. Sieh bitte noch einmal auf der Karte nach.",
	"Write the last month as on the card, such as 08/29; it must not be over.": "Schreib den letzten Monat wie auf der Karte, etwa 08/29; er darf nicht vorbei sein.",
	"The code has three digits.":                                               "Der Code hat drei Ziffern.",
}

func say(language, text string) string {
	if t, ok := german[text]; ok && language == "de" {
		return t
	}
	return text
}
