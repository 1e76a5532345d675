// Package lab holds the use cases: it opens transactions, loads facts, calls the
// core and saves. It knows no HTTP and no SQL text.
package lab
