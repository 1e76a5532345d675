package lab_test

import (
	"testing"

	"github.com/google/uuid"

	"vialbench/core/marks"
	"vialbench/internal/lab"
)

// busyClass opens a class: a group that handed in, with a slip confirmed, another with its hand raised, a task taken off.
func busyClass(t *testing.T, l *lab.Lab, ra, it lab.Actor, session, plan string) {
	t.Helper()
	must := func(_ any, err error) {
		t.Helper()
		if err != nil {
			t.Fatal(err)
		}
	}
	task, off, handed := uuid.NewString(), uuid.NewString(), uuid.NewString()
	given := lab.NewClassTask{ID: task, Plan: plan, Unit: "mol/L", Held: "0.1 ± 0.0002 mol/L", Quiet: true}
	must(l.AddClassTask(t.Context(), ra, session, given))
	given.ID = off
	must(l.AddClassTask(t.Context(), ra, session, given))
	must(nil, l.RemoveClassTask(t.Context(), ra, off))
	class, err := l.OpenClass(t.Context(), it, session)
	must(nil, err)
	group := lab.Actor{Account: class.Groups[0].Account}
	celsius := 23.5
	must(l.SetBench(t.Context(), group, lab.GroupBench{Celsius: &celsius}))
	must(l.BeginOwnTask(t.Context(), group, task, uuid.NewString()))
	must(l.HandIn(t.Context(), group, task, handed, "0.0998 mol/L", "by the formula"))
	must(nil, l.JudgeSlip(t.Context(), ra, handed, uuid.NewString(), "mL for L", true))
	scheme := marks.Usual()
	must(l.MarkClass(t.Context(), ra, task, uuid.NewString(), &scheme))
	must(l.MarkClass(t.Context(), ra, task, uuid.NewString(), nil))
	must(nil, l.SayToClass(t.Context(), ra, session, uuid.NewString(), "", "Ten minutes more"))
	must(nil, l.SayToClass(t.Context(), ra, session, uuid.NewString(), class.Groups[0].ID, "Well done"))
	must(l.SetHand(t.Context(), lab.Actor{Account: class.Groups[1].Account}, true))
}
