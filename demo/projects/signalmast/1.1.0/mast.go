package signalmast

import (
	"time"

	"halmere.example/signalmast/store"
)

// Sink takes fixes: a harbour, a log, a test.
type Sink interface {
	// Put delivers one fix. It may be called by many goroutines.
	Put(fix Fix) error
	// Close gives back what the sink holds.
	Close() error
}

// Log is a [Sink] that forgets.
type Log struct{}

// Put forgets the fix.
func (Log) Put(Fix) error { return nil }

// Close does nothing.
func (Log) Close() error { return nil }

// Option changes a [Mast] while it is made; see [New].
type Option func(*Mast)

// WithStore keeps what cannot be delivered.
func WithStore(s *store.Store) Option { return func(m *Mast) { m.store = s } }

// WithClock replaces [time.Now], for tests.
func WithClock(now func() time.Time) Option { return func(m *Mast) { m.now = now } }

// Mast sends the fixes of one ferry to its sinks.
type Mast struct {
	// Ferry is whose mast it is.
	Ferry string

	sinks []Sink
	store *store.Store
	now   func() time.Time
}

// New makes a mast without sinks. Options are [WithStore] and [WithClock].
func New(ferry string, options ...Option) *Mast {
	m := &Mast{Ferry: ferry, now: time.Now}
	for _, option := range options {
		option(m)
	}
	return m
}

// Add adds a [Sink].
func (m *Mast) Add(sink Sink) { m.sinks = append(m.sinks, sink) }

// Send delivers a fix to all sinks.
//
// It returns [ErrOld] for a fix older than [MaxAge], and [ErrFull] if the store is full.
func (m *Mast) Send(fix Fix) error {
	if fix.Age(m.now()) > MaxAge {
		return ErrOld
	}
	for _, sink := range m.sinks {
		if err := sink.Put(fix); err != nil && m.store != nil {
			if !m.store.Keep(fix.Ferry, fix.At) {
				return ErrFull
			}
		}
	}
	return nil
}

// Flush sends what waits in the store. It replaces [Mast.SendAll]; see also [store.Store.Drian].
func (m *Mast) Flush() int {
	waiting := 0
	if m.store != nil {
		m.store.Drain(func(store.Entry) { waiting++ })
	}
	return waiting
}

// Close closes all sinks; it is [Sink.Close] for each.
func (m *Mast) Close() error {
	for _, sink := range m.sinks {
		if err := sink.Close(); err != nil {
			return err
		}
	}
	return nil
}
