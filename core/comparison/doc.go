// Package comparison judges the results of a class: each against the true value of its own bottle, and all of them against
// one another, with statistics that a few wrong results do not move.
//
// # One result
//
// A result x with the expanded uncertainty U (k = 2) against a true value T with U_T:
//
//	percent error  100·(x − T)/T, signed
//	E_n            (x − T)/√(U² + U_T²), within ±1 where both uncertainties are true (ISO 13528:2022, 9.7)
//
// # A class
//
// Where all had one bottle the results themselves are compared; where each had its own, the percent errors are. Of these:
//
//	median, MAD    the middle one, and 1.4826 times the median distance from it
//	Algorithm A    robust mean x* and standard deviation s*: results beyond x* ± 1.5·s* are drawn in to it, and the mean
//	               and 1.134 times the standard deviation are taken again until they stand (ISO 13528:2022, C.3)
//	Q, Hampel      standard deviation from the distances of all pairs, and the mean that goes with it (C.5)
//	z              (x − x*)/s*
//	ζ              (x − x*)/√(u² + u(x*)²), with u(x*) = 1.25·s*/√p
//
// |z| up to 2 is what scatter does, beyond 3 it is not (9.4). Nothing is left out: a result that is far off stays in the
// table, and counts for little.
//
// # All of them off
//
// Results that agree with one another but not with the true value have a common cause: the stock, or the value that they
// are compared with. The robust mean of the percent errors is judged against √(u(x*)² + u(T)²) by rule CO-2.
package comparison
