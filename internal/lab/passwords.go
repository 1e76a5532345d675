package lab

import (
	"cmp"
	"context"
	"crypto/rand"
	"crypto/sha256"
	"crypto/subtle"
	_ "embed"
	"encoding/base64"
	"fmt"
	"runtime"
	"slices"
	"strings"
	"sync"
	"time"
	"unicode"

	"golang.org/x/crypto/argon2"

	"vialbench/core/verdict"
)

// The shortest and the longest password.
const (
	minPassword = 10
	maxPassword = 200
)

// commonPasswords are long enough, and the first that anybody would try (from memory of
// published lists of leaked passwords).
//
//go:embed common-passwords.txt
var commonPasswords string

// checkPassword says why a password will not do for an account.
func checkPassword(password, login, name string, p *verdict.Problems) {
	runes := []rune(password)
	plain := strings.ToLower(strings.Join(strings.Fields(password), ""))
	distinct := map[rune]bool{}
	for _, r := range runes {
		distinct[r] = true
	}
	switch {
	case len(runes) < minPassword:
		p.Add("/password", "a password has at least %d characters", minPassword)
	case len(runes) > maxPassword:
		p.Add("/password", "a password has at most %d characters", maxPassword)
	case strings.TrimSpace(password) == "" || len(distinct) < 4:
		p.Add("/password", "this password is one character over and over: take a few words that only you would put together")
	case strings.ContainsFunc(password, unicode.IsControl):
		p.Add("/password", "a password is of letters, digits, spaces and signs")
	case slices.Contains(strings.Fields(commonPasswords), plain):
		p.Add("/password", "this is one of the passwords that are tried first: take a few words that only you would put together")
	case plain == strings.ToLower(login), plain == strings.ToLower(strings.ReplaceAll(name, " ", "")):
		p.Add("/password", "a name is no password: take a few words that only you would put together")
	}
}

// Hashing says how passwords are hashed, with Argon2id. The zero value is the second
// recommended parameter set of RFC 9106, 4: 64 MiB and three passes; half of the processors hash.
type Hashing struct {
	Passes, MemoryKiB uint32
	// AtOnce is how many are hashed at the same time: each needs its memory.
	AtOnce int
}

const (
	argonThreads = 4
	argonKey     = 32
	saltLength   = 16
	// mostWaiting is how many may wait for their turn.
	mostWaiting = 20
)

func (h Hashing) filled() Hashing {
	return Hashing{cmp.Or(h.Passes, 3), cmp.Or(h.MemoryKiB, 64*1024), cmp.Or(h.AtOnce, max(1, runtime.NumCPU()/2))}
}

// hasher hashes passwords, a bounded number of them at once.
type hasher struct {
	Hashing
	turns chan struct{}
	// strangers lets one of those through at a time who come from a device that nobody signed in on
	// before: however many there are, whoever is known waits for one of them at the most.
	strangers chan struct{}
	mu        sync.Mutex
	queue     int // of strangers
}

func newHasher(h Hashing) *hasher {
	h = h.filled()
	return &hasher{Hashing: h, turns: make(chan struct{}, h.AtOnce), strangers: make(chan struct{}, 1)}
}

// turn waits for a turn to hash. When too many strangers wait already, it is Throttled.
func (h *hasher) turn(ctx context.Context, known bool) (done func(), err error) {
	leave := func() {}
	if !known {
		if leave, err = h.pass(ctx); err != nil {
			return nil, err
		}
	}
	select {
	case h.turns <- struct{}{}:
		return func() { <-h.turns; leave() }, nil
	case <-ctx.Done():
		leave()
		return nil, ctx.Err()
	}
}

// pass waits until it is a stranger's turn to wait for a turn.
func (h *hasher) pass(ctx context.Context) (leave func(), err error) {
	count := func(n int) { h.mu.Lock(); h.queue += n; h.mu.Unlock() }
	h.mu.Lock()
	if h.queue > mostWaiting {
		h.mu.Unlock()
		return nil, Throttled{Wait: 2 * time.Second}
	}
	h.queue++
	h.mu.Unlock()
	select {
	case h.strangers <- struct{}{}:
		return func() { <-h.strangers; count(-1) }, nil
	case <-ctx.Done():
		count(-1)
		return nil, ctx.Err()
	}
}

// hash is what is kept of a password.
func (h *hasher) hash(ctx context.Context, password string) (string, error) {
	done, err := h.turn(ctx, true)
	if err != nil {
		return "", err
	}
	defer done()
	salt := make([]byte, saltLength)
	_, _ = rand.Read(salt) // never fails, by its documentation
	key := argon2.IDKey([]byte(password), salt, h.Passes, h.MemoryKiB, argonThreads, argonKey)
	b64 := base64.RawStdEncoding
	return fmt.Sprintf("$argon2id$v=%d$m=%d,t=%d,p=%d$%s$%s", argon2.Version, h.MemoryKiB, h.Passes, argonThreads,
		b64.EncodeToString(salt), b64.EncodeToString(key)), nil
}

// matches reports whether a password is the one that was hashed. Without a hash, of an
// account that is not there or has no password, it takes as long and is not.
func (h *hasher) matches(ctx context.Context, hash, password string, known bool) (bool, error) {
	done, err := h.turn(ctx, known)
	if err != nil {
		return false, err
	}
	defer done()
	memory, passes, threads := h.MemoryKiB, h.Passes, uint8(argonThreads)
	salt, key := make([]byte, saltLength), make([]byte, argonKey)
	parts := strings.Split(hash, "$")
	readable := len(parts) == 6
	if readable {
		b64 := base64.RawStdEncoding
		_, err1 := fmt.Sscanf(parts[3], "m=%d,t=%d,p=%d", &memory, &passes, &threads)
		var err2, err3 error
		salt, err2 = b64.DecodeString(parts[4])
		key, err3 = b64.DecodeString(parts[5])
		readable = err1 == nil && err2 == nil && err3 == nil
	}
	got := argon2.IDKey([]byte(password), salt, passes, memory, threads, argonKey)
	return subtle.ConstantTimeCompare(got, key) == 1 && readable, nil
}

func tokenHash(token string) []byte {
	sum := sha256.Sum256([]byte(token))
	return sum[:]
}
