package calendar

import (
	"strings"

	"github.com/rickar/cal/v2"
	"github.com/rickar/cal/v2/ch"
	"github.com/rickar/cal/v2/de"
)

// A Region is a part of a country with public holidays of its own, by its ISO
// 3166-2 code and its name there.
type Region struct {
	Code string
	Name string
	list []*cal.Holiday
}

// RegionsOf lists the regions of a country that are known.
func RegionsOf(country string) []Region {
	var list []Region
	for _, r := range regions {
		if strings.HasPrefix(r.Code, country+"-") {
			list = append(list, r)
		}
	}
	return list
}

var regions = []Region{
	{"DE-BW", "Baden-Württemberg", de.HolidaysBW},
	{"DE-BY", "Bayern", de.HolidaysBY},
	{"DE-BE", "Berlin", de.HolidaysBE},
	{"DE-BB", "Brandenburg", de.HolidaysBB},
	{"DE-HB", "Bremen", de.HolidaysHB},
	{"DE-HH", "Hamburg", de.HolidaysHH},
	{"DE-HE", "Hessen", de.HolidaysHE},
	{"DE-MV", "Mecklenburg-Vorpommern", de.HolidaysMV},
	{"DE-NI", "Niedersachsen", de.HolidaysNI},
	{"DE-NW", "Nordrhein-Westfalen", de.HolidaysNW},
	{"DE-RP", "Rheinland-Pfalz", de.HolidaysRP},
	{"DE-SL", "Saarland", de.HolidaysSL},
	{"DE-SN", "Sachsen", de.HolidaysSN},
	{"DE-ST", "Sachsen-Anhalt", de.HolidaysST},
	{"DE-SH", "Schleswig-Holstein", de.HolidaysSH},
	{"DE-TH", "Thüringen", de.HolidaysTH},
	{"CH-AG", "Aargau", ch.HolidaysAG},
	{"CH-AI", "Appenzell Innerrhoden", ch.HolidaysAI},
	{"CH-AR", "Appenzell Ausserrhoden", ch.HolidaysAR},
	{"CH-BE", "Bern", ch.HolidaysBE},
	{"CH-BL", "Basel-Landschaft", ch.HolidaysBL},
	{"CH-BS", "Basel-Stadt", ch.HolidaysBS},
	{"CH-FR", "Fribourg", ch.HolidaysFR},
	{"CH-GE", "Genève", ch.HolidaysGE},
	{"CH-GL", "Glarus", ch.HolidaysGL},
	{"CH-GR", "Graubünden", ch.HolidaysGR},
	{"CH-JU", "Jura", ch.HolidaysJU},
	{"CH-LU", "Luzern", ch.HolidaysLU},
	{"CH-NE", "Neuchâtel", ch.HolidaysNE},
	{"CH-NW", "Nidwalden", ch.HolidaysNW},
	{"CH-OW", "Obwalden", ch.HolidaysOW},
	{"CH-SG", "St. Gallen", ch.HolidaysSG},
	{"CH-SH", "Schaffhausen", ch.HolidaysSH},
	{"CH-SO", "Solothurn", ch.HolidaysSO},
	{"CH-SZ", "Schwyz", ch.HolidaysSZ},
	{"CH-TG", "Thurgau", ch.HolidaysTG},
	{"CH-TI", "Ticino", ch.HolidaysTI},
	{"CH-UR", "Uri", ch.HolidaysUR},
	{"CH-VD", "Vaud", ch.HolidaysVD},
	{"CH-VS", "Valais", ch.HolidaysVS},
	{"CH-ZG", "Zug", ch.HolidaysZG},
	{"CH-ZH", "Zürich", ch.HolidaysZH},
}
