package workplan

import (
	"slices"
	"strconv"

	"ruvo/internal/core/question"
)

// A Part is what of an order line a work item is for: an entry of a list, a unit,
// a person, a chosen value or a file.
type Part struct {
	// ID names it for as long as it is the same one; empty for the whole line.
	ID    string
	Place int    // among its like, from 1; 0 for the whole line
	Of    int    // how many there are
	Label string // what it is called: "Mila", "Gold ink", "dog.jpg"
	// Answers are what conditions and minutes of the part read.
	Answers question.Answers
	// Print is all that an entry holds, to be known by.
	Print string
}

// An Entry is an entry of a list as it was known when work was last planned.
type Entry struct {
	ID    int    `json:"id"` // never given to another entry of the list
	Print string `json:"print"`
}

// Entries are the entries of an order line's lists.
type Entries map[question.Key][]Entry

// Recognise gives the entries of a list the numbers of those they were before. The
// same content is the same entry, wherever it stands now. What is left stands for an
// entry that is gone where it has the same one before it: that one was edited.
// Anything else is new, with a number from next on.
func Recognise(before []Entry, prints []string, next int) []Entry {
	now := make([]Entry, len(prints))
	kept := make([]bool, len(before))
	for _, e := range before {
		next = max(next, e.ID+1)
	}
	for i, p := range prints {
		now[i].Print = p
		for j := range before {
			if !kept[j] && before[j].Print == p {
				now[i].ID, kept[j] = before[j].ID, true
				break
			}
		}
	}
	for i := range now {
		if now[i].ID != 0 {
			continue
		}
		if j := follows(before, now, i); j >= 0 && j < len(before) && !kept[j] {
			now[i].ID, kept[j] = before[j].ID, true
		} else {
			now[i].ID = next
			next++
		}
	}
	return now
}

// follows gives where, among the entries before, the one stood that came after what
// an entry comes after now; −1 where that is new.
func follows(before, now []Entry, i int) int {
	if i == 0 {
		return 0
	}
	at := slices.IndexFunc(before, func(e Entry) bool { return e.ID == now[i-1].ID })
	if at < 0 {
		return -1
	}
	return at + 1
}

// recognised gives the parts of a list their numbers as ids.
func recognised(parts []Part, known []Entry) []Part {
	for i := range parts {
		parts[i].ID = strconv.Itoa(known[i].ID)
	}
	return parts
}
