package order

import (
	"slices"
	"time"

	"ruvo/internal/core/workplan"
)

// A WorkAct is something that people do with a work item.
type WorkAct string

const (
	Begin  WorkAct = "start"  // work on an open item
	Pause  WorkAct = "pause"  // leave a begun item for now
	Finish WorkAct = "finish" // an open or begun item
	Aside  WorkAct = "aside"  // a begun item that nobody needs any more
	Undo   WorkAct = "undo"   // the last of them
)

// WorkActs lists them.
func WorkActs() []WorkAct { return []WorkAct{Begin, Pause, Finish, Aside, Undo} }

// Worked does one act with a work item, or gives the code of what stands
// against it. An act that was done already, as by a doubled click, is no
// problem. Siblings are the items of the same order line.
func Worked(i workplan.Item, act WorkAct, siblings []workplan.Item, now time.Time) (workplan.Item, string) {
	switch act {
	case Begin:
		switch {
		case !i.Done.IsZero():
			return i, "item_done"
		case !i.Started.IsZero():
			return i, ""
		case i.Waiting():
			return i, "item_waits"
		}
		return i.Begin(now), ""
	case Pause:
		switch {
		case !i.Done.IsZero():
			return i, "item_done"
		case i.Started.IsZero():
			return i, "item_open"
		}
		return i, ""
	case Finish:
		switch {
		case !i.Done.IsZero():
			return i, ""
		case i.Waiting() && i.Started.IsZero():
			return i, "item_waits"
		}
		return i.Finish(now), ""
	case Aside:
		switch {
		case !i.Done.IsZero():
			return i, ""
		case !i.Unneeded:
			return i, "item_needed"
		}
		return i.Aside(now), ""
	}
	later := func(o workplan.Item) bool { return o.Step == i.Step && o.Part == i.Part && o.Round > i.Round }
	switch {
	case i.Started.IsZero():
		return i, "item_open"
	case slices.ContainsFunc(siblings, later):
		return i, "item_redone"
	}
	return i.Undo(), ""
}
