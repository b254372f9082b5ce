// Package store keeps what could not be delivered.
package store

import "time"

// DefaultSize is how many entries a [Store] holds.
const DefaultSize = 1000

// Entry is one thing that waits.
type Entry struct {
	Key string    // Key says whose it is.
	At  time.Time // At is when it came.
}

// Store is a queue with an end.
type Store struct {
	entries []Entry
	size    int
}

// New makes a store of a size; [DefaultSize] for 0.
func New(size int) *Store {
	if size == 0 {
		size = DefaultSize
	}
	return &Store{size: size}
}

// Keep adds an entry and reports whether there was room.
func (s *Store) Keep(key string, at time.Time) bool {
	if len(s.entries) >= s.size {
		return false
	}
	s.entries = append(s.entries, Entry{key, at})
	return true
}

// Len is how many wait. After [Store.Drain] it is 0.
func (s *Store) Len() int { return len(s.entries) }

// Drain calls a function with every [Entry] and forgets them.
func (s *Store) Drain(do func(Entry)) {
	for _, entry := range s.entries {
		do(entry)
	}
	s.entries = nil
}

// Filter is generic over what it keeps.
func Filter[T any](all []T, keep func(T) bool) []T {
	var found []T
	for _, one := range all {
		if keep(one) {
			found = append(found, one)
		}
	}
	return found
}
