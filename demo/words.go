package demo

import (
	"errors"
	"fmt"

	"ruvo/internal/core/words"
	"ruvo/internal/problem"
)

func language(l string) words.Language { return words.Pick(l) }

// detail adds to a problem which fields it is about, for whoever edits the
// data files.
func detail(err error) error {
	var p *problem.Problem
	if errors.As(err, &p) {
		return fmt.Errorf("%w: %v", err, p.Errors)
	}
	return err
}
