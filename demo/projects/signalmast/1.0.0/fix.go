package signalmast

import (
	"errors"
	"time"
)

// MaxAge is how old a fix may be when it is sent.
const MaxAge = 10 * time.Minute

// Limits of a position, in degrees.
const (
	MaxLat = 90.0  // MaxLat is the latitude of the pole.
	MaxLon = 180.0 // MaxLon is where the date changes.
)

// Errors that [Mast.Send] returns.
var (
	// ErrFull means that the store takes no more.
	ErrFull = errors.New("the store is full")
	// ErrOld means that a fix is older than [MaxAge].
	ErrOld = errors.New("the fix is too old")
)

// Quality says how good a fix is.
type Quality int

// What a fix can be.
const (
	Unknown Quality = iota
	// Estimated positions come from course and speed.
	Estimated
	// Measured positions come from satellites.
	Measured
)

// String gives the quality in words.
func (q Quality) String() string {
	switch q {
	case Estimated:
		return "estimated"
	case Measured:
		return "measured"
	}
	return "unknown"
}

// Fix is where a ferry was at a time.
type Fix struct {
	Ferry string    // Ferry is her name.
	Lat   float64   // Lat is the latitude in degrees, north positive.
	Lon   float64   // Lon is the longitude in degrees, east positive.
	At    time.Time // At is when.
	// Quality is how good it is.
	Quality Quality
}

// Valid reports whether the position lies on the earth; see [MaxLat] and [MaxLon].
func (f Fix) Valid() bool {
	return f.Lat >= -MaxLat && f.Lat <= MaxLat && f.Lon >= -MaxLon && f.Lon <= MaxLon
}

// Age is how long ago the fix was taken.
func (f Fix) Age(now time.Time) time.Duration { return now.Sub(f.At) }
