// Package stock is the store: containers of solids, concentrates, sachets and what else is used up, what is left in
// them, and when more has to be ordered.
//
// # What is left
//
// A container holds what it was last counted to hold, less what runs have taken since:
//
//	left = n(last count) − Σ x(taken after it).
//
// Amounts are in g, in mL or in pieces. A count by hand is a fact of its own: it corrects what the record says, and
// changes nothing of what was taken.
//
// # When to order
//
// What sessions are planned to take is taken in the order of their days, from what expires first; what has expired by the
// day does not count. Where a session on the day D finds too little, an order that takes L days goes out on D − L at
// the latest, on the Friday before where that is a Saturday or Sunday. The minimum is what lasts while an order is on
// its way: whoever falls below it orders on that day.
package stock
