package condition

import (
	"encoding/json"

	"ruvo/internal/core/question"
)

// EachNumber shows the whole numbers that a condition compares answers with,
// and lets them be changed: both ends of Between.
func EachNumber(c *Condition, visit func(answer question.Key, value *int64)) {
	if c == nil {
		return
	}
	for _, list := range [][]Condition{c.All, c.Any, c.None} {
		for i := range list {
			EachNumber(&list[i], visit)
		}
	}
	var one int64
	var two []int64
	switch {
	case c.Answer == "" || len(c.Value) == 0 || string(c.Value) == "null":
	case json.Unmarshal(c.Value, &one) == nil:
		visit(c.Answer, &one)
		c.Value, _ = json.Marshal(one)
	case json.Unmarshal(c.Value, &two) == nil:
		for i := range two {
			visit(c.Answer, &two[i])
		}
		c.Value, _ = json.Marshal(two)
	}
}
