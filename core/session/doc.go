// Package session works a session back from its hour: what the places need of each liquid, what on the shelf
// serves and what is made, which tasks come of that, and who does them when (package schedule).
//
// # Need
//
// Of a liquid of which each trial takes v, a group that makes n trials and has s to spare, at k pieces of
// glass that are rinsed r times with q each and keep w at the end, needs
//
//	V(group) = (n + s)·v + k·(r·q + w),
//
// and p places, with the demonstration, need p·V(group)·(1 + b), with b for what is spilled. A burette is
// filled to zero: where the trials take less than it holds, the rest of its first filling stays in it. All
// volumes are in mL. Each allowance is a rule of the lab, or what somebody set for the session.
//
// # Supply
//
// A bottle serves when enough is left that no other session was promised, when it keeps until the day, when
// its strength is within the tolerance and, where that is asked for, known. A stronger one is
// diluted: V(stock) = V·c/c(stock). What is made fills flasks that are there, one after another. Where no bottle is
// enough, several are taken together, and what they leave is made. What has to be standardised is poured together and
// standardised once, which takes its own part of it (rule S-13). A substance that is made from leaves the store:
//
//	m = c·V·M/w    of a solid, of which w is the compound;    V = m/ρ    of a liquid,
//
// and a store that holds less supplies nothing.
package session
