package workplan

import (
	"testing"
	"time"

	"ruvo/internal/core/question"
	"ruvo/internal/core/words"
)

// proofed is a plan in which the customer accepts a sketch before the rest is made.
func proofed(a Acceptance) *Plan {
	return &Plan{Steps: []Ready{
		{Step: Step{Key: "sketch", Title: "Sketch", Minutes: Minutes{Fixed: 30}, Start: Start{On: OnPayment}, Due: Due{WorkingDays, 1}, Acceptance: &a}},
		{Step: Step{Key: "print", Title: "Print", Minutes: Minutes{Fixed: 20}, Start: Start{On: OnAcceptance, Step: "sketch"}, Due: Due{WorkingDays, 1}}},
	}}
}

// A round of changes, told in steps: shown, changes asked for, made, shown again,
// accepted.
func TestRoundsOfChanges(t *testing.T) {
	b := &bench{t: t, plan: proofed(Acceptance{Rounds: 1, Silence: 3}), now: paid}
	f := facts(nil)
	f.Shown = map[StepKey]Shown{}
	b.replan(f)
	b.expect("print waits, sketch ready")
	if i := b.items[b.find("print", 0)]; !i.Accept || i.After != "sketch" || i.Silence != 3 || i.Due.In(zone).Format("2006-01-02") != "2026-11-30" {
		t.Errorf("what waits for acceptance: %+v", i) // Wed, three days to Sat, and the next working day after that
	}

	b.finish("sketch", 0)
	f.Shown["sketch"] = Shown{Given: b.now}
	b.replan(f)
	b.expect("print waits, sketch done")

	asked := Shown{Given: b.now, Requests: []Request{{ID: 7, At: b.now.Add(time.Hour)}}}
	b.now = b.now.Add(time.Hour)
	f.Shown["sketch"] = asked
	b.replan(f)
	b.expect("print waits, sketch done, sketch+1 ready")
	if i := b.items[b.find("sketch", 1)]; i.Request != 7 {
		t.Errorf("the round answers request %d", i.Request)
	}
	if n := b.replan(f); n != 0 {
		t.Errorf("planning twice made %d more changes", n)
	}
	if q := proofed(Acceptance{Rounds: 1}).Steps[0].Acceptance.Quote(asked); q.Left != 0 || !q.None {
		t.Errorf("one more round: %+v", q)
	}
	if q := proofed(Acceptance{Rounds: 1, Price: 1500}).Steps[0].Acceptance.Quote(asked); q.Price != 1500 || q.None {
		t.Errorf("one more round at a price: %+v", q)
	}

	// What was accepted before the change was made does not count for it.
	accepted := asked
	accepted.Accepted = b.now
	b.begin("sketch", 1)
	b.finish("sketch", 1)
	f.Shown["sketch"] = accepted
	b.replan(f)
	b.expect("print waits, sketch done, sketch+1 done")
	accepted.Given, accepted.Accepted = b.now, b.now.Add(time.Hour)
	f.Shown["sketch"] = accepted
	b.now = b.now.Add(time.Hour)
	b.replan(f)
	b.expect("print ready, sketch done, sketch+1 done")
	b.finish("print", 0)
	b.replan(f)
	b.expect("print done, sketch done, sketch+1 done")
}

// What the customer was shown and accepted before it was marked done is accepted.
func TestAcceptedBeforeItIsMarkedDone(t *testing.T) {
	b := &bench{t: t, plan: proofed(Acceptance{Rounds: 1}), now: paid}
	f := facts(nil)
	f.Shown = map[StepKey]Shown{}
	b.replan(f)
	f.Shown["sketch"] = Shown{Given: b.now, Accepted: b.now.Add(time.Hour)}
	b.replan(f)
	b.expect("print waits, sketch ready")
	b.now = b.now.Add(2 * time.Hour)
	b.finish("sketch", 0)
	b.replan(f)
	b.expect("print ready, sketch done")
	if i := b.items[b.find("print", 0)]; !i.Ready.Equal(b.now) {
		t.Errorf("ready at %v, done at %v", i.Ready, b.now)
	}
}

// A customer asks for changes while the step is being done again for another reason:
// one round answers both.
func TestARequestJoinsReworkUnderWay(t *testing.T) {
	b := &bench{t: t, plan: proofed(Acceptance{Rounds: 2}), now: paid}
	b.plan.Steps[0].Needs = append(b.plan.Steps[0].Needs, "title")
	answers := map[question.Key]string{}
	f := facts(nil)
	set := func(title string) {
		answers["title"] = title
		f = facts(answers)
		f.Shown = map[StepKey]Shown{}
	}
	set("One")
	b.replan(f)
	b.finish("sketch", 0)
	set("Two")
	b.replan(f)
	b.expect("print waits, sketch done [title: One→Two], sketch+1 ready")
	f.Shown["sketch"] = Shown{Given: paid, Requests: []Request{{ID: 3, At: b.now}}}
	b.replan(f)
	b.expect("print waits, sketch done [title: One→Two], sketch+1 ready")
	if i := b.items[b.find("sketch", 1)]; i.Request != 3 {
		t.Errorf("the round answers request %d", i.Request)
	}
	// The answer changes back: what the customer asked for is still to be done.
	shown := f.Shown
	set("One")
	f.Shown = shown
	b.replan(f)
	if i := b.find("sketch", 1); i < 0 || b.items[i].Request != 3 {
		t.Errorf("the round that was asked for is gone: %s", b)
	}
}

// Without a step that makes something, nothing holds up what waits for its acceptance.
func TestAcceptanceOfWhatIsNotMade(t *testing.T) {
	p := proofed(Acceptance{})
	p.Steps = p.Steps[1:]
	b := &bench{t: t, plan: p, now: paid}
	b.replan(facts(nil))
	b.expect("print ready")
}

func TestWhenSilenceCounts(t *testing.T) {
	a := Acceptance{Silence: 3}
	if got := a.Until(paid, zone).Format("2006-01-02 15:04"); got != "2026-11-28 00:00" { // all of Friday still counts
		t.Errorf("silence counts from %s", got)
	}
	if never := (&Acceptance{}).Until(paid, zone); !never.IsZero() {
		t.Errorf("silence counts from %s", never)
	}
}

func TestWhatAnAcceptanceCanBe(t *testing.T) {
	for want, a := range map[string]Acceptance{
		"step.rounds": {Rounds: -1}, "step.round_price": {Price: -1}, "step.silence": {Silence: 400},
	} {
		s := Step{Key: "a", Title: "A", Start: Start{On: OnPayment}, Due: Due{WorkingDays, 1}, Acceptance: &a}
		told, ok := s.Validate().(*words.Message)
		if !ok || told.Code != want {
			t.Errorf("%+v: %v, want %s", a, told, want)
		}
	}
	s := Step{Key: "a", Title: "A", Start: Start{On: OnAcceptance}, Due: Due{WorkingDays, 1}}
	if s.Validate() == nil {
		t.Error("acceptance of no step is taken")
	}
}
