package charge

// Rules says by which rules a slip is made. Rules are made better now and then;
// what was published before keeps those of its day, so that whatever was
// computed for an order can be computed again.
type Rules int

const (
	// RulesNow are today's rules.
	RulesNow Rules = 0
	// Rules1 hold for what was published before there were prices by the day of a
	// booking: every factor was rounded by itself; a charge on a choice counted
	// all choices of its question; an answer of nothing cost the amount; an other
	// price above the list price did not hold; a formula without a result charged
	// nothing; and a share that hangs on no question was taken before the charges
	// of questions.
	Rules1 Rules = 1
)

// Known says whether there are such rules.
func (r Rules) Known() bool { return r == RulesNow || r == Rules1 }
