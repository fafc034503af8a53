package earn

import (
	"cmp"
	"maps"
	"math"
	"slices"

	"ruvo/internal/core/question"
	"ruvo/internal/core/workplan"
)

// A Sample is a finished work item whose time was measured.
type Sample struct {
	Item    int64
	Planned int // minutes
	Taken   int
	Units   int
	// Codes are what was chosen on the order line.
	Codes map[question.Key][]string
	// Minutes are those by which it was planned.
	Minutes workplan.Minutes
}

// Learned is what the measured items of a step tell.
type Learned struct {
	Planned, Taken Summary
	// Model is by what the step's minutes would have met the measured ones best; nil
	// with fewer than Least samples.
	Model *workplan.Minutes
	// Off is how far the planned minutes lay from the measured ones, half of the items
	// nearer and half farther; and Then the same with the model.
	Off, Then float64
	// Groups are the answers that explain the differences, the best first.
	Groups []Group
}

// A Group is an answer by which items took more or less time.
type Group struct {
	Of       question.Key
	Explains float64 // share of the spread that goes away when it is known
	Values   []GroupValue
}

// A GroupValue is the items with one choice.
type GroupValue struct {
	Code  string
	Taken Summary
}

const (
	// Least is how many measured items are needed to learn from.
	Least = 5
	// leastOf is how many are needed with a choice to tell of it.
	leastOf = 3
	// leastShare is how much of the spread an answer has to explain to be told.
	leastShare = 0.1
	// mostSamples bounds what is compared pair by pair; the newest count.
	mostSamples = 400
	mostGroups  = 5
)

// Learn tells what measured items of a step say about its minutes as they are now. The
// newest samples come first.
func Learn(samples []Sample, now workplan.Minutes) Learned {
	samples = samples[:min(len(samples), mostSamples)]
	planned, taken := make([]float64, len(samples)), make([]float64, len(samples))
	off := make([]float64, len(samples))
	for i, s := range samples {
		planned[i], taken[i] = float64(s.Planned), float64(s.Taken)
		off[i] = math.Abs(taken[i] - planned[i])
	}
	l := Learned{Planned: Summarise(planned), Taken: Summarise(taken), Off: median(off)}
	if len(samples) < Least {
		return l
	}
	rest, per, perUnit := fit(samples, now)
	l.Groups = explain(samples, rest)
	model := now
	model.Choices = nil
	base := median(rest)
	if len(l.Groups) > 0 && single(samples, l.Groups[0].Of) {
		base, model.Choices = byChoice(samples, rest, l.Groups[0])
	}
	model.Fixed = whole(base)
	if perUnit {
		model.Unit = whole(per)
	} else if now.Each > 0 {
		model.Each = whole(per)
	}
	if now.Value != "" { // what the value comes to stays in
		model.Choices = now.Choices
	}
	for i, s := range samples {
		off[i] = math.Abs(taken[i] - float64(Predict(s, now, model)))
	}
	l.Then = median(off)
	l.Model = &model
	return l
}

// Predict tells how long an item would take by a model that was learned for a step
// with the minutes that it has now.
func Predict(s Sample, now, model workplan.Minutes) int {
	minutes := float64(model.Fixed)
	if now.Value != "" {
		return max(s.Planned+model.Fixed-now.Fixed, 0)
	}
	perUnit := now.Each == 0 && now.Unit > 0
	if perUnit {
		minutes += float64(model.Unit) * count(s, now, true)
	} else {
		minutes += float64(model.Each) * count(s, now, false)
	}
	for _, c := range model.Choices {
		if slices.Contains(s.Codes[c.Of], c.Code) {
			minutes += float64(c.Minutes)
		}
	}
	return whole(minutes)
}

// fit gives how long one of what is counted takes, and what is left of each sample
// without it: the median of the slopes between all pairs (Theil 1950, Sen 1968), which
// holds as long as fewer than 29 % of the samples are out of line.
func fit(samples []Sample, now workplan.Minutes) (rest []float64, per float64, perUnit bool) {
	perUnit = now.Each == 0 && now.Unit > 0
	var slopes []float64
	for i, a := range samples {
		for _, b := range samples[:i] {
			if dx := count(a, now, perUnit) - count(b, now, perUnit); math.Abs(dx) > 0.01 {
				slopes = append(slopes, float64(a.Taken-b.Taken)/dx)
			}
		}
	}
	switch {
	case len(slopes) > 0:
		per = max(median(slopes), 0)
	case perUnit: // all had as many: how much one takes cannot be told apart
		per = float64(now.Unit)
	default:
		per = float64(now.Each)
	}
	if now.Value != "" {
		per = float64(max(now.Each, now.Unit))
	}
	for _, s := range samples {
		left := float64(s.Taken) - math.Round(per)*count(s, now, perUnit)
		if now.Value != "" {
			left = float64(s.Taken - s.Planned + now.Fixed)
		}
		rest = append(rest, left)
	}
	return rest, per, perUnit
}

// count gives how many of what is counted an item had: its units, or what its planned
// minutes say that there were.
func count(s Sample, now workplan.Minutes, perUnit bool) float64 {
	m := s.Minutes
	switch {
	case perUnit:
		return float64(s.Units)
	case m.Each == 0 || now.Each == 0:
		return 0
	}
	left := s.Planned - m.Fixed - m.Unit*s.Units
	for _, c := range m.Choices {
		if slices.Contains(s.Codes[c.Of], c.Code) {
			left -= c.Minutes
		}
	}
	return max(float64(left)/float64(m.Each), 0)
}

// explain finds the answers by which what is left of the samples differs.
func explain(samples []Sample, rest []float64) []Group {
	all := spread(rest)
	if all == 0 {
		return nil
	}
	var groups []Group
	keys := map[question.Key]bool{}
	for _, s := range samples {
		for k := range s.Codes {
			keys[k] = true
		}
	}
	for _, k := range slices.Sorted(maps.Keys(keys)) {
		by, taken := map[string][]float64{}, map[string][]float64{}
		for i, s := range samples {
			code := name(s.Codes[k])
			by[code] = append(by[code], rest[i])
			taken[code] = append(taken[code], float64(s.Taken))
		}
		g := Group{Of: k}
		within, big := 0.0, 0
		for _, code := range slices.Sorted(maps.Keys(by)) {
			within += spread(by[code])
			if len(by[code]) >= leastOf {
				big++
			}
			g.Values = append(g.Values, GroupValue{code, Summarise(taken[code])})
		}
		if g.Explains = 1 - within/all; big >= 2 && g.Explains >= leastShare {
			groups = append(groups, g)
		}
	}
	slices.SortStableFunc(groups, func(a, b Group) int { return cmp.Compare(b.Explains, a.Explains) })
	return groups[:min(len(groups), mostGroups)]
}

// name writes what was chosen in one way; of several choices, all of them.
func name(codes []string) string {
	s := slices.Sorted(slices.Values(codes))
	out := ""
	for i, c := range s {
		if i > 0 {
			out += ", "
		}
		out += c
	}
	return out
}

// single says whether at most one choice was taken at a time.
func single(samples []Sample, k question.Key) bool {
	return !slices.ContainsFunc(samples, func(s Sample) bool { return len(s.Codes[k]) > 1 })
}

// byChoice gives the minutes without a choice that takes longer, and how much longer
// each takes.
func byChoice(samples []Sample, rest []float64, g Group) (base float64, longer []workplan.ChoiceMinutes) {
	of := map[string][]float64{}
	for i, s := range samples {
		code := name(s.Codes[g.Of])
		of[code] = append(of[code], rest[i])
	}
	base = math.Inf(1)
	for _, values := range of {
		if len(values) >= leastOf {
			base = min(base, median(values))
		}
	}
	for _, code := range slices.Sorted(maps.Keys(of)) {
		more := whole(median(of[code]) - math.Max(base, 0))
		if code == "" || len(of[code]) < leastOf || more < 2 {
			continue
		}
		longer = append(longer, workplan.ChoiceMinutes{Of: g.Of, Code: code, Minutes: more})
	}
	return base, longer
}

func whole(minutes float64) int { return int(math.Round(max(minutes, 0))) }
