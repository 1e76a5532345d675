package httpapi

import (
	"context"
	"encoding/json"
	"errors"
	"io"
	"net/http"
	"strings"
	"time"

	"github.com/gin-gonic/gin"

	"vialbench/core/verdict"
	"vialbench/internal/lab"
)

// computeTime is how long a computation may take, the wait for its turn included.
const computeTime = 5 * time.Second

// compute answers POST /compute/…. The computations are stateless: the same bodies go
// through the API and through the command line.
func (s *Server) compute(c *gin.Context) {
	body, err := io.ReadAll(c.Request.Body)
	if err != nil {
		writeTooLarge(c.Writer)
		return
	}
	ctx, cancel := context.WithTimeout(c.Request.Context(), computeTime)
	defer cancel()
	done, err := s.turns.take(ctx, actor(ctx).ID)
	var answer any
	if err == nil {
		defer done()
		answer, err = lab.Compute(ctx, strings.TrimPrefix(c.Param("operation"), "/"), body)
	}
	if errors.Is(err, context.DeadlineExceeded) {
		w := c.Writer
		w.Header().Set("Retry-After", "2")
		writeProblem(w, http.StatusServiceUnavailable, "this computation took too long and was given up: ask for less at once", nil)
		return
	}
	if err != nil {
		writeError(ctx, c.Writer, err)
		return
	}
	c.JSON(http.StatusOK, answer)
}

// Compute carries out an operation by name on a JSON body and returns the JSON
// answer, for the command line.
func Compute(ctx context.Context, operation string, body []byte) ([]byte, error) {
	answer, err := lab.Compute(ctx, operation, body)
	var problems verdict.Problems
	var unknown lab.NotFound
	switch {
	case errors.As(err, &problems):
		lines := make([]string, len(problems))
		for i, p := range problems {
			lines[i] = strings.TrimPrefix(p.Field+": ", ": ") + p.Reason
		}
		return nil, errors.New(strings.Join(lines, "\n"))
	case errors.As(err, &unknown):
		return nil, errors.New("no computation “" + operation + "”: use one of " + strings.Join(lab.Computations(), ", "))
	case err != nil:
		return nil, err
	}
	return json.MarshalIndent(answer, "", "  ")
}
