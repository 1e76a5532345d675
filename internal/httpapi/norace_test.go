//go:build !race

package httpapi_test

import "time"

// slowest is how long an answer may take.
const slowest = 5 * time.Second // on a busy machine; the benchmarks tell the rest
