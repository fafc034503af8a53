package store

// rules has what was published before go on by the rules of price of its day, and
// sheets carry charges and steps.
var rules = []string{
	`ALTER TABLE sheets ADD COLUMN content TEXT`,
	`ALTER TABLE sheets ADD COLUMN published_content TEXT`,
	`UPDATE editions SET content = json_set(content, '$.rules', 1)`,
}
