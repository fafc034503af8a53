package condition

import "ruvo/internal/core/question"

// classNames are the classes of answers as the API names them.
var classNames = map[question.Class]string{
	question.ClassNone: "nothing", question.ClassText: "text", question.ClassNumber: "number", question.ClassYesNo: "yes_no", question.ClassOne: "one",
	question.ClassSeveral: "several", question.ClassDay: "day", question.ClassBooking: "booking", question.ClassClock: "clock", question.ClassSpan: "span",
	question.ClassList: "list", question.ClassGiven: "given",
}

// ClassName names a class of answers.
func ClassName(c question.Class) string { return classNames[c] }

// OpsByClass lists the operators that fit each class of answers.
func OpsByClass() map[string][]Op {
	all := map[string][]Op{}
	for c, name := range classNames {
		all[name] = Ops(c)
	}
	return all
}
