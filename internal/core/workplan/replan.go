package workplan

import (
	"maps"
	"slices"
	"time"
)

// A Diff is what planning again changes. Items keep their identity.
type Diff struct {
	Add    []Item
	Update []Item
	Drop   []Item
}

// Empty says whether nothing changes.
func (d Diff) Empty() bool { return len(d.Add)+len(d.Update)+len(d.Drop) == 0 }

// Replan compares the items of one order line with those that its answers ask
// for now. New items are added and items no longer needed dropped, unless they
// are done. A finished item is never touched, but when an answer it used has
// changed it is marked with the old and the new value and a rework item is
// added; when the answer changes back before the rework is begun, mark and
// rework go again. Replanning with nothing changed gives an empty Diff.
func Replan(existing, wanted []Item, f Basis, p *Plan) Diff {
	var d Diff
	chains := chain(existing)
	for _, want := range wanted {
		c := chains[want.Step]
		delete(chains, want.Step)
		if len(c) == 0 {
			d.Add = append(d.Add, want)
			continue
		}
		last := c[len(c)-1]
		if !last.Done.IsZero() {
			d.finished(last, want, f, p)
			continue
		}
		if last.Round > 0 && last.Started.IsZero() {
			if before := c[len(c)-2]; len(marks(before.Seen, want.Uses)) == 0 {
				d.Drop = append(d.Drop, last)
				if len(before.Marks) > 0 {
					before.Marks = nil
					d.Update = append(d.Update, before)
				}
				continue
			} else if m := marks(before.Seen, want.Uses); !slices.Equal(m, before.Marks) {
				before.Marks = m
				d.Update = append(d.Update, before)
			}
		}
		d.open(last, want)
	}
	for _, step := range slices.Sorted(maps.Keys(chains)) {
		for _, i := range chains[step] {
			if i.Done.IsZero() {
				d.Drop = append(d.Drop, i)
			}
		}
	}
	return d
}

// finished marks a done item whose answers changed and adds its rework.
func (d *Diff) finished(done, want Item, f Basis, p *Plan) {
	m := marks(done.Seen, want.Uses)
	if len(m) == 0 {
		return
	}
	done.Marks = m
	d.Update = append(d.Update, done)
	again := want
	again.Round = done.Round + 1
	again.Ready, again.After, again.Brief = f.Now, "", false
	for i := range p.Steps {
		if p.Steps[i].Key == want.Step {
			again.Due = p.Steps[i].due(f.Now, f)
		}
	}
	d.Add = append(d.Add, again)
}

// open brings an item that is not done up to date.
func (d *Diff) open(item, want Item) {
	now := want
	now.Round, now.Started, now.Done, now.Seen, now.Marks = item.Round, item.Started, item.Done, item.Seen, item.Marks
	if item.Round > 0 { // rework was asked for at its own time
		now.Ready, now.Due, now.After, now.Brief = item.Ready, item.Due, "", false
	}
	if !item.Started.IsZero() {
		now.Marks = marks(item.Seen, want.Uses)
	}
	if !same(item, now) {
		d.Update = append(d.Update, now)
	}
}

func same(a, b Item) bool {
	return a.Title == b.Title && a.Instructions == b.Instructions && a.Minutes == b.Minutes &&
		slices.Equal(a.Missing, b.Missing) && a.After == b.After && a.Brief == b.Brief &&
		a.Ready.Equal(b.Ready) && a.Due.Equal(b.Due) && maps.Equal(a.Uses, b.Uses) && slices.Equal(a.Marks, b.Marks)
}

// Begin gives the item as someone starts it.
func (i Item) Begin(now time.Time) Item {
	i.Started, i.Seen = now, maps.Clone(i.Uses)
	return i
}

// Finish gives the item as someone finishes it: with the answers as they are
// now, so earlier marks are done with.
func (i Item) Finish(now time.Time) Item {
	if i.Started.IsZero() {
		i.Started = now
	}
	i.Done, i.Seen, i.Marks = now, maps.Clone(i.Uses), nil
	return i
}

// Undo takes back the last of Begin and Finish.
func (i Item) Undo() Item {
	if !i.Done.IsZero() {
		i.Done = time.Time{}
		return i
	}
	i.Started, i.Seen, i.Marks = time.Time{}, nil, nil
	return i
}
