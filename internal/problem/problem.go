// Package problem holds the errors that people are told: RFC 9457 problem
// documents with a list of the fields that are wrong.
package problem

import (
	"errors"
	"fmt"
	"io/fs"
	"math"
	"net/http"
	"strconv"
	"time"

	"ruvo/api"
	"ruvo/internal/core/question"
	"ruvo/internal/core/words"
)

// A Problem is an error with the words for the person who met it.
type Problem struct {
	Status int
	Code   string // the last part of the problem's type
	Title  string
	Detail string
	Errors []api.FieldError
	// After is how long to wait before the same can be asked for again; zero when
	// waiting does not help.
	After time.Duration
}

func (p *Problem) Error() string { return fmt.Sprintf("%s: %s %s", p.Code, p.Title, p.Detail) }

// Field makes the entry of one wrong field.
func Field(l words.Language, key, code string, params words.Params) api.FieldError {
	return api.FieldError{Key: key, Code: code, Message: l.Say("fault."+code, params)}
}

// Fields makes the entries of faults; each key gets a prefix.
func Fields(l words.Language, prefix string, faults []question.Fault) []api.FieldError {
	fields := make([]api.FieldError, len(faults))
	for i, f := range faults {
		fields[i] = api.FieldError{Key: prefix + f.Name(), Code: f.Code, Message: f.Message(l)}
	}
	return fields
}

// Invalid says which fields are wrong.
func Invalid(l words.Language, fields []api.FieldError) *Problem {
	return &Problem{Status: http.StatusUnprocessableEntity, Code: "invalid", Title: l.Say("problem.invalid", nil), Errors: fields}
}

// Say makes a problem whose title has the code "problem."+code.
func Say(status int, l words.Language, code string, params words.Params) *Problem {
	return &Problem{Status: status, Code: code, Title: l.Say("problem."+code, params)}
}

// Throttled says that something was asked for too often, and how long it takes
// until it is taken again.
func Throttled(l words.Language, code string, wait time.Duration) *Problem {
	seconds := int(math.Ceil(wait.Seconds()))
	p := Say(http.StatusTooManyRequests, l, code, words.Params{"seconds": strconv.Itoa(seconds), "minutes": strconv.Itoa((seconds + 59) / 60)})
	p.After = time.Duration(seconds) * time.Second
	return p
}

// Missing puts an error into words that says that what was asked for by name
// is not there; another error, or none, it gives back as it is.
func Missing(err error, l words.Language, code string) error {
	if errors.Is(err, fs.ErrNotExist) {
		return NotFound(l, code)
	}
	return err
}

// NotFound says that something is not there.
func NotFound(l words.Language, code string) *Problem { return Say(http.StatusNotFound, l, code, nil) }
