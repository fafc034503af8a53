package workplan

import (
	"cmp"
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
// are begun: a begun one is kept and marked as no longer needed, so that whoever
// works on it is told and what they did is not lost; of a cancelled order it is set
// aside. A finished item is never touched, but when an answer it used has changed it
// is marked with the old and the new value and a rework item is added; when the
// answer changes back before the rework is begun, mark and rework go again.
// Replanning with nothing changed gives an empty Diff.
func Replan(existing, wanted []Item, f Basis, p *Plan) Diff {
	var d Diff
	chains := chain(existing)
	for _, want := range wanted {
		c := chains[want.chain()]
		delete(chains, want.chain())
		if len(c) == 0 {
			d.Add = append(d.Add, want)
			continue
		}
		last := c[len(c)-1]
		if last.SetAside { // and is needed again
			want.Round = last.Round + 1
			d.Add = append(d.Add, want)
			continue
		}
		asked := f.asked(want.Step, c)
		if !last.Done.IsZero() {
			d.finished(last, want, asked, f, p)
			continue
		}
		if last.Request == 0 {
			last.Request = asked
		}
		if last.Round > 0 && last.Started.IsZero() && last.Request == 0 && !c[len(c)-2].SetAside {
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
		d.open(c[len(c)-1], want, last.Request, len(c) > 1 && !c[len(c)-2].SetAside)
	}
	for _, key := range slices.SortedFunc(maps.Keys(chains), func(a, b chainKey) int {
		return cmp.Or(cmp.Compare(a.step, b.step), cmp.Compare(a.part, b.part))
	}) {
		for _, i := range chains[key] {
			d.unneeded(i, f)
		}
	}
	return d
}

// unneeded takes an item away that nothing asks for any more, or marks it.
func (d *Diff) unneeded(i Item, f Basis) {
	switch {
	case !i.Done.IsZero():
	case i.Started.IsZero():
		d.Drop = append(d.Drop, i)
	case f.Cancelled:
		d.Update = append(d.Update, i.Aside(f.Now))
	case !i.Unneeded:
		i.Unneeded = true
		d.Update = append(d.Update, i)
	}
}

// asked gives the last request for changes of what a step made, if none of its items
// answers it yet; else zero.
func (f *Basis) asked(step StepKey, c []Item) int64 {
	last := f.Shown[step].Last()
	if slices.ContainsFunc(c, func(i Item) bool { return i.Request == last }) {
		return 0
	}
	return last
}

// finished adds the rework of a done item whose answers changed, which it marks, or of
// which the customer asked for changes.
func (d *Diff) finished(done, want Item, asked int64, f Basis, p *Plan) {
	m := marks(done.Seen, want.Uses)
	if len(m) == 0 && asked == 0 {
		return
	}
	if len(m) > 0 {
		done.Marks = m
		d.Update = append(d.Update, done)
	}
	again := want
	again.Round, again.Request = done.Round+1, asked
	again.Ready, again.After, again.Brief, again.Accept, again.Silence = f.Now, "", false, false, 0
	for i := range p.Steps {
		if p.Steps[i].Key == want.Step {
			again.Due = p.Steps[i].due(f.Now, f)
		}
	}
	d.Add = append(d.Add, again)
}

// open brings an item that is not done up to date; again says that it is rework.
func (d *Diff) open(item, want Item, request int64, again bool) {
	now := want
	now.Request = request
	now.Round, now.Started, now.Done, now.Seen, now.Marks = item.Round, item.Started, item.Done, item.Seen, item.Marks
	if again { // rework was asked for at its own time
		now.Ready, now.Due, now.After, now.Brief, now.Accept, now.Silence = item.Ready, item.Due, "", false, false, 0
	}
	if !item.Started.IsZero() {
		now.Marks = marks(item.Seen, want.Uses)
	}
	if !same(item, now) {
		d.Update = append(d.Update, now)
	}
}

func same(a, b Item) bool {
	return a.Place == b.Place && a.Label == b.Label &&
		a.Title == b.Title && a.Instructions == b.Instructions && a.Minutes == b.Minutes &&
		slices.Equal(a.Missing, b.Missing) && a.After == b.After && a.Brief == b.Brief && a.Accept == b.Accept && a.Silence == b.Silence && a.Request == b.Request &&
		a.Ready.Equal(b.Ready) && a.Due.Equal(b.Due) && a.Who == b.Who && a.During == b.During && a.Unneeded == b.Unneeded &&
		slices.Equal(a.Checks, b.Checks) && maps.Equal(a.Uses, b.Uses) && slices.Equal(a.Marks, b.Marks)
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

// Aside gives the item as someone sets it aside unfinished, as nobody needs it.
func (i Item) Aside(now time.Time) Item {
	i.Done, i.SetAside, i.Marks = now, true, nil
	return i
}

// Undo takes back the last of Begin, Finish and Aside.
func (i Item) Undo() Item {
	if !i.Done.IsZero() {
		i.Done, i.SetAside = time.Time{}, false
		return i
	}
	i.Started, i.Seen, i.Marks = time.Time{}, nil, nil
	return i
}
