// Package schedule says who does which task when, so that all is ready on time: tasks with minutes at the
// bench and minutes of waiting, in their order, for people who have hours and one pair of hands, over
// things that are there in a limited number.
//
// # Model
//
// Times are whole minutes from an origin of the caller's choice. A task i that starts at s takes the hands
// of one person for h minutes without a break, within that person's hours, and is over after w minutes
// of waiting more, at e = s + h + w, in which hands are free. What it uses is held from s for h, or for
// h + w. It starts at its earliest time r or later, and after all tasks that come before it are over.
// Its lateness is e − d, with d the time by which it is due; what is sought is a schedule with
//
//	L = max (e − d) as small as it can be,
//
// and, where L ≤ 0, the latest time X at which the work can begin so that L ≤ 0 still.
//
// # Method
//
// Branch and bound over the tasks in the order of their starts: each that may come next is placed as
// early as it can be for each person who may do it. All that a task holds it holds from its start, so
// a task that is moved to the left makes room and takes none: some best schedule is found that way.
// What others hold of a thing at fixed times is an obstacle like the hours of people, and changes nothing in
// that. Nothing is placed that starts after another could have been over (Giffler and Thompson 1960), nor
// what an earlier partial schedule of the same tasks can do as well (the cut sets of Demeulemeester
// and Herroelen 1992). A bound is what the chains of tasks need, and what the minutes of the people
// and of each thing leave room for. The effort is bounded; where that ends the search, the best that was
// found stands with the bound that was proven.
package schedule
