package httpapi

import (
	"net/http"
	"sync"
	"time"

	"github.com/gin-gonic/gin"

	"vialbench/internal/lab"
)

// hub passes announcements to the event streams of this process.
type hub struct {
	mu      sync.Mutex
	streams map[chan string]struct{}
}

func newHub() *hub { return &hub{streams: map[chan string]struct{}{}} }

func (h *hub) join() chan string {
	stream := make(chan string, 64)
	h.mu.Lock()
	defer h.mu.Unlock()
	h.streams[stream] = struct{}{}
	return stream
}

func (h *hub) leave(stream chan string) {
	h.mu.Lock()
	defer h.mu.Unlock()
	delete(h.streams, stream)
}

// announce hands a topic to every stream. A stream that has fallen far behind
// misses it, and finds "resync" waiting instead.
func (h *hub) announce(topic string) {
	h.mu.Lock()
	defer h.mu.Unlock()
	for stream := range h.streams {
		select {
		case stream <- topic:
		default:
			drain(stream)
			stream <- "resync"
		}
	}
}

func drain(stream chan string) {
	for {
		select {
		case <-stream:
		default:
			return
		}
	}
}

// heartbeat keeps proxies from closing a quiet stream, and checks that the
// session still holds.
const heartbeat = 20 * time.Second

// streamEvents sends the topics of what changes as server-sent events. Clients
// read again what they show of a topic; "resync" means all of it.
func (s *Server) streamEvents(c *gin.Context) {
	if _, ok := c.Request.Context().Value(actorKey{}).(lab.Actor); !ok {
		writeProblem(c.Writer, http.StatusUnauthorized, "sign in first", nil)
		return
	}
	stream := s.events.join()
	defer s.events.leave(stream)
	c.Header("X-Accel-Buffering", "no")
	c.SSEvent("topic", "resync")
	c.Writer.Flush()
	beat := time.NewTicker(heartbeat)
	defer beat.Stop()
	for {
		select {
		case <-c.Request.Context().Done():
			return
		case <-s.lifetime.Done():
			return
		case topic := <-stream:
			c.SSEvent("topic", topic)
		case <-beat.C:
			cookie, err := c.Request.Cookie(cookieName)
			if err != nil {
				return
			}
			if _, err := s.lab.WhoIs(c.Request.Context(), cookie.Value); err != nil {
				return
			}
			c.SSEvent("beat", "")
		}
		c.Writer.Flush()
	}
}
