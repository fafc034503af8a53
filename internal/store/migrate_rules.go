package store

// rules has what was published before go on by the rules of price of its day.
var rules = []string{
	`UPDATE editions SET content = json_set(content, '$.rules', 1)`,
}
