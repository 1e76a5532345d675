package httpapi

import (
	"context"
	"strings"
	"time"

	"github.com/gin-contrib/sse"
	"github.com/gin-gonic/gin"

	"vialbench/core/quantity"
	"vialbench/core/verdict"
	"vialbench/internal/lab"
)

// liveReading is one event of the stream of an instrument.
type liveReading struct {
	Text      string              `json:"text"`
	Readings  []quantity.Quantity `json:"readings"`
	State     string              `json:"state"`
	Still     bool                `json:"still"`
	Spread    *quantity.Quantity  `json:"spread,omitempty"`
	Says      string              `json:"says,omitempty"`
	Standin   bool                `json:"standin"`
	Verdict   *verdict.Verdict    `json:"verdict,omitempty"`
	Identity  string              `json:"identity,omitempty"`
	PH        string              `json:"pH,omitempty"`
	Predicted *prediction         `json:"predicted,omitempty"`
	Band      float64             `json:"band,omitempty"`
	Watched   string              `json:"watched,omitempty"`
}

// prediction is where a probe is going, and when it will be there, s.
type prediction struct {
	MV       float64 `json:"mV"`
	Text     string  `json:"text"`
	Wait     float64 `json:"wait"`
	Settling float64 `json:"settling"`
}

// whileSessionHolds stops a stream when the session that it was opened in ends.
func (s *Server) whileSessionHolds(ctx context.Context, c *gin.Context, stop context.CancelFunc) {
	ends, _ := s.events.join([]string{lab.TopicSession}, "")
	defer s.events.leave(ends)
	beat := time.NewTicker(heartbeat)
	defer beat.Stop()
	for {
		select {
		case <-ctx.Done():
			return
		case x := <-ends:
			if !strings.HasPrefix(x.topic, lab.TopicSession) {
				continue
			}
		case <-beat.C:
		}
		if !s.sessionHolds(c) {
			stop()
			return
		}
	}
}

// stream sends what a connected instrument shows as server-sent events.
func (s *Server) stream(watch func(context.Context, string, func(lab.Live) error) error) gin.HandlerFunc {
	return func(c *gin.Context) {
		if !signedIn(c) {
			return
		}
		if err := s.lab.MayWatch(c.Request.Context(), actor(c.Request.Context()), c.Param("id")); err != nil {
			writeError(c.Request.Context(), c.Writer, err)
			return
		}
		ctx, stop := context.WithCancel(c.Request.Context())
		defer stop()
		go s.whileSessionHolds(ctx, c.Copy(), stop)
		defer context.AfterFunc(s.lifetime, stop)()
		begun := false
		err := watch(ctx, c.Param("id"), func(l lab.Live) error {
			if !begun {
				c.Header("X-Accel-Buffering", "no")
				begun = true
			}
			write(c, sse.Event{Event: "reading", Data: wireLive(l)})
			return nil
		})
		if err != nil && !begun {
			writeError(c.Request.Context(), c.Writer, err)
		}
	}
}

func wireLive(l lab.Live) liveReading {
	out := liveReading{
		Text:     l.Text,
		Readings: append([]quantity.Quantity{}, l.Readings...),
		State:    l.State,
		Still:    l.Still,
		Spread:   l.Spread,
		Says:     l.Says,
		Standin:  l.Standin,
		Verdict:  l.Verdict,
		Identity: l.Identity,
		PH:       l.PH,
		Band:     l.Band,
		Watched:  l.Watched,
	}
	if f := l.Predicted; f != nil {
		out.Predicted = &prediction{f.MV, f.Text, f.Wait, f.Settling}
	}
	return out
}
