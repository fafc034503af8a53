package handover

import (
	"strings"

	"ruvo/internal/core/question"
)

// A Mark is a place on a picture, or on a page of a document, that the customer wants
// changed.
type Mark struct {
	File int64 `json:"file"`
	Page int   `json:"page,omitempty"` // of a document, from 1
	// The place, as shares of the width and the height, from the upper left; a point
	// has no size.
	X     float64 `json:"x"`
	Y     float64 `json:"y"`
	W     float64 `json:"w,omitempty"`
	H     float64 `json:"h,omitempty"`
	Words string  `json:"words"`
}

// The limits of a request for changes.
const (
	MostMarks    = 200
	longestWords = 5000 // characters
	mostPages    = 10_000
)

// A Fault is what is wrong with a request, at a field of it.
type Fault struct {
	Field string // "words", "marks" or "marks.3"
	Code  string // of a problem
}

// Asked tidies what a customer asks for, and says what is wrong with it. Known says
// whether a file is part of the handover and can be marked.
func Asked(words string, marks []Mark, known func(file int64) bool) (string, []Mark, *Fault) {
	words = strings.TrimSpace(words)
	tidy := make([]Mark, 0, len(marks))
	if question.Characters(words) > longestWords {
		return "", nil, &Fault{"words", "longest"}
	}
	if len(marks) > MostMarks {
		return "", nil, &Fault{"marks", "marks_most"}
	}
	for _, m := range marks {
		m.Words = strings.TrimSpace(m.Words)
		switch inside := m.X >= 0 && m.Y >= 0 && m.W >= 0 && m.H >= 0 && m.X+m.W <= 1 && m.Y+m.H <= 1; {
		case !known(m.File):
			return "", nil, &Fault{"marks", "mark_file"}
		case !inside || m.Page < 0 || m.Page > mostPages:
			return "", nil, &Fault{"marks", "mark_place"}
		case m.Words == "":
			return "", nil, &Fault{"marks", "mark_words"}
		case question.Characters(m.Words) > longestWords:
			return "", nil, &Fault{"marks", "longest"}
		}
		tidy = append(tidy, m)
	}
	if words == "" && len(tidy) == 0 {
		return "", nil, &Fault{"words", "changes_empty"}
	}
	return words, tidy, nil
}

// Most gives the limit that a fault's code tells of; zero for none.
func Most(code string) int {
	switch code {
	case "longest":
		return longestWords
	case "marks_most":
		return MostMarks
	}
	return 0
}
