package product

// Reach is how a product reaches whoever bought it.
type Reach string

const (
	Unsaid   Reach = ""       // nothing is said of it
	ByFiles  Reach = "files"  // nothing is shipped: it comes as files
	AtPlace  Reach = "place"  // nothing is shipped: it happens at a place and a time
	ByParcel Reach = "parcel" // it is shipped
)

// Reaches lists them.
func Reaches() []Reach { return []Reach{Unsaid, ByFiles, AtPlace, ByParcel} }
