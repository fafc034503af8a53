package brief

// Asked is what became of a change of an answer that a customer asked for after they
// could no longer make it themselves.
type Asked string

const (
	Waiting   Asked = "asked"
	Taken     Asked = "taken"
	Refused   Asked = "refused"
	Withdrawn Asked = "withdrawn"
)
