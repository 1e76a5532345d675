package httpapi

import (
	"cmp"
	"errors"
	"fmt"
	"net/http"
	"slices"
	"strconv"
	"strings"
	"sync"
	"time"

	"github.com/gin-contrib/sse"
	"github.com/gin-gonic/gin"
	"github.com/google/uuid"

	"vialbench/internal/lab"
)

// said is one announcement, and which one it was in this process.
type said struct {
	n     uint64
	topic string
}

// everything is the topic of what may have been missed.
const everything = "resync"

// stream is what one reader hears.
type stream struct {
	c chan said
	// topics are how those begin that it wants to hear of; none are all.
	topics []string
}

func (s stream) wants(topic string) bool {
	return len(s.topics) == 0 || topic == everything || strings.HasPrefix(topic, lab.TopicSession) ||
		slices.ContainsFunc(s.topics, func(t string) bool { return strings.HasPrefix(topic, t) })
}

// hub passes announcements to the event streams of this process, each to those that want it.
type hub struct {
	mu      sync.Mutex
	streams map[chan said]stream
	// name tells processes apart, count is how much was announced in this one, and latest are the
	// last of it.
	name   string
	count  uint64
	latest []said
}

// remembered is how many announcements are kept for those whose stream broke off or was opened
// again for other topics.
const remembered = 1000

func newHub() *hub { return &hub{streams: map[chan said]stream{}, name: uuid.NewString()[:8]} }

// join opens a stream for some topics, and says what was announced before it. What came since an
// event that was heard, by its ID, waits in it.
func (h *hub) join(topics []string, since string) (c chan said, seen string) {
	s := stream{make(chan said, 64), topics}
	h.mu.Lock()
	defer h.mu.Unlock()
	if since != "" {
		h.replay(s, since)
	}
	h.streams[s.c] = s
	return s.c, h.id(h.count)
}

// replay hands a stream what it missed, or tells it that it missed too much.
func (h *hub) replay(s stream, since string) {
	var n uint64
	name, number, _ := strings.Cut(since, " ")
	n, err := strconv.ParseUint(number, 10, 64)
	if name != h.name || err != nil || n+uint64(len(h.latest)) < h.count {
		s.c <- said{h.count, everything}
		return
	}
	for _, x := range h.latest {
		if x.n > n && s.wants(x.topic) {
			send(s.c, x)
		}
	}
}

// id names an announcement among those of all processes.
func (h *hub) id(n uint64) string { return fmt.Sprintf("%s %d", h.name, n) }

// seenHeader says how much was announced when work on an answer began: who opens a stream later
// than that has missed what came between.
const seenHeader = "Seen"

func (h *hub) mark(c *gin.Context) {
	if c.Request.Method == http.MethodGet && strings.HasPrefix(c.Request.URL.Path, apiPrefix+"/") {
		h.mu.Lock()
		seen := h.id(h.count)
		h.mu.Unlock()
		c.Header(seenHeader, seen)
	}
}

func (h *hub) leave(c chan said) {
	h.mu.Lock()
	defer h.mu.Unlock()
	delete(h.streams, c)
}

// announce hands a topic to every stream that wants it.
func (h *hub) announce(topic string) {
	h.mu.Lock()
	defer h.mu.Unlock()
	h.count++
	x := said{h.count, topic}
	if len(h.latest) == 2*remembered {
		h.latest = slices.Clone(h.latest[remembered:])
	}
	h.latest = append(h.latest, x)
	for c, s := range h.streams {
		if s.wants(topic) {
			send(c, x)
		}
	}
}

// send hands an announcement to a stream. One that has fallen far behind misses it, and finds
// “resync” waiting instead.
func send(c chan said, x said) {
	select {
	case c <- x:
	default:
		drain(c)
		c <- said{x.n, everything}
	}
}

func drain(stream chan said) {
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

// eventTime is how long a stream may take to pass on one event.
const eventTime = 30 * time.Second

// write sends an event. A reader that does not take it for long is cut off.
func write(c *gin.Context, e sse.Event) {
	_ = http.NewResponseController(c.Writer).SetWriteDeadline(time.Now().Add(eventTime))
	c.Render(-1, e)
	c.Writer.Flush()
}

// signedIn reports whether somebody is, and else answers that it is for those who are.
func signedIn(c *gin.Context) bool {
	_, ok := c.Request.Context().Value(actorKey{}).(lab.Actor)
	if !ok {
		writeProblem(c.Writer, http.StatusUnauthorized, "sign in first", nil)
	}
	return ok
}

// sessionHolds reports whether the session that a stream was opened in goes on.
func (s *Server) sessionHolds(c *gin.Context) bool {
	cookie, err := c.Request.Cookie(cookieName)
	if err != nil {
		return false
	}
	_, err = s.whoIs(c.Request.Context(), cookie.Value)
	var nobody lab.NotFound
	return !errors.As(err, &nobody)
}

// mostTopics is how many one stream may name.
const mostTopics = 50

// topicsOf are the beginnings of the topics that somebody wants to hear of.
func topicsOf(c *gin.Context) []string {
	list := slices.DeleteFunc(strings.Split(c.Query("topics"), ","), func(t string) bool { return t == "" })
	return list[:min(len(list), mostTopics)]
}

// streamEvents sends the topics of what changes as server-sent events, those that begin with one of
// `topics`. Clients read again what they show of a topic; "resync" means all of it. The first event
// says what was announced before. Who comes back with the ID of what was heard last, or opens
// another stream `since` that, hears what came between.
func (s *Server) streamEvents(c *gin.Context) {
	if !signedIn(c) {
		return
	}
	stream, seen := s.events.join(topicsOf(c), cmp.Or(c.GetHeader("Last-Event-ID"), c.Query("since")))
	defer s.events.leave(stream)
	c.Header("X-Accel-Buffering", "no")
	write(c, sse.Event{Event: "joined", Data: seen, Id: seen})
	beat := time.NewTicker(heartbeat)
	defer beat.Stop()
	for {
		select {
		case <-c.Request.Context().Done():
			return
		case <-s.lifetime.Done():
			return
		case x := <-stream:
			if strings.HasPrefix(x.topic, lab.TopicSession) { // for the streams themselves
				if !s.sessionHolds(c) {
					return
				}
				continue
			}
			write(c, sse.Event{Event: "topic", Data: x.topic, Id: s.events.id(x.n)})
		case <-beat.C:
			if !s.sessionHolds(c) {
				return
			}
			write(c, sse.Event{Event: "beat"})
		}
	}
}
