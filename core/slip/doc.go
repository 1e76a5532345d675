// Package slip traces a result that is off to the slip that would explain it, from the figures of those who found it.
//
// # How a result is worked out
//
// A result is a tree of [Step]s: figures as they were written, and what is done with them. Every slip is written once, as
// something else that can happen at a step of some role: a conversion left out, a factor applied twice, a logarithm of the
// other base. So whatever is worked out as a tree has its slips; [Titration], [Solution], [Dilution], [Buffer], [Line] and
// [Capacity] are the trees of the usual results.
//
// # Two questions
//
// With s the result that was stated, c what the figures give, and t what the bottle held:
//
//   - The working: does s follow from the figures? Each slip, and each pair, predicts what s would be.
//   - The hands: do the figures give t? Each slip of the hands says what a figure would really have been, and so what c
//     would have been without it.
//
// # What is likely
//
// A slip h with the prior P(h) has the share P(h)·L(h)/Σ, over all slips, pairs of them, no slip at all, and something that
// is not in the list. L is a normal distribution: of s around its prediction, as wide as the rounding of s (a rectangle, a/√3)
// and of a hand calculation (rule SL-1); of t around what c would have been, as wide as both uncertainties. Something else is
// equally likely anywhere within four powers of ten. Of the hands, L has the trials of a titration besides: what one of them
// would have been without the slip agrees with the others, or does not. The Bayes factor of a slip is L(h)/L(no slip).
//
// How often a slip happens is common practice to begin with, and is learnt from how often a laboratory confirmed it: what is
// assumed beforehand counts as much as [learnAfter] results.
package slip
