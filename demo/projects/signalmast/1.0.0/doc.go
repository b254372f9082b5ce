// Package signalmast relays the positions of ferries to harbours.
//
// Make a [Mast], give it some [Sink]s, and call [Mast.Send] with every [Fix]. What cannot be
// delivered is kept by a [halmere.example/signalmast/store.Store].
//
// # Loss
//
// A fix is lost only when:
//   - the store is full, see [ErrFull]
//   - it is older than [MaxAge]
//
// # Example
//
//	mast := signalmast.New("Wren")
//	mast.Add(signalmast.Log{})
//	err := mast.Send(fix)
package signalmast
