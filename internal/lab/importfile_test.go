package lab_test

import (
	"errors"
	"io"
	"strings"
	"testing"
	"testing/iotest"

	"vialbench/core/verdict"
)

func TestABrokenConnectionIsNoFaultOfTheRecords(t *testing.T) {
	l, ra := busyLab(t)
	file := exported(t, l).String()
	broken := errors.New("the line broke")
	for _, at := range []int{0, 1, len(file) / 4, len(file) / 2, len(file) - 3} {
		cut := io.MultiReader(strings.NewReader(file[:at]), iotest.ErrReader(broken))
		_, err := l.ImportFrom(t.Context(), ra, cut, false)
		var problems verdict.Problems
		if !errors.Is(err, broken) || errors.As(err, &problems) {
			t.Errorf("after %d of %d characters: %v", at, len(file), err)
		}
	}
}
