package evidence

import (
	"fmt"

	"golang.org/x/mod/sumdb/tlog"
)

// height is that of a tile: 256 hashes, and the level above has one hash for each.
const (
	height = 8
	width  = 1 << height
	// Whole is how many bytes a whole tile has.
	Whole = width * tlog.HashSize
)

// Hash is SHA-256, as the log has it.
type Hash = tlog.Hash

// At is where a tile stands: on which level, counted from the entries, and as which of
// them, both from 0.
type At struct {
	Level int
	N     int64
}

// Tiles are the log's hashes in tiles. The last tile of a level may be of fewer bytes;
// one that is not there is nil.
type Tiles func(At) ([]byte, error)

// HashOf is the hash of an entry (RFC 9162, 2.1.1: a zero byte comes before it).
func HashOf(entry []byte) Hash { return tlog.RecordHash(entry) }

// Append lets a log of some size grow by entries, and returns the tiles that change.
func Append(tiles Tiles, size int64, entries []Hash) (map[At][]byte, error) {
	changed := map[At][]byte{}
	for level := 0; len(entries) > 0; level++ {
		var err error
		if entries, err = appendLevel(tiles, changed, level, size, entries); err != nil {
			return nil, err
		}
		size >>= height
	}
	return changed, nil
}

// appendLevel appends hashes to one level, and returns those for the level above.
func appendLevel(tiles Tiles, changed map[At][]byte, level int, size int64, hashes []Hash) (above []Hash, err error) {
	at := At{level, size >> height}
	var tile []byte
	if held := int(size & (width - 1)); held > 0 {
		if tile, err = tiles(at); err != nil {
			return nil, err
		}
		if len(tile) < held*tlog.HashSize {
			return nil, fmt.Errorf("the log's tile %d on level %d holds %d bytes, too few", at.N, level, len(tile))
		}
		tile = append([]byte(nil), tile[:held*tlog.HashSize]...)
	}
	for _, h := range hashes {
		tile = append(tile, h[:]...)
		if len(tile) == Whole {
			changed[at] = tile
			above = append(above, top(tile))
			at.N++
			tile = nil
		}
	}
	if len(tile) > 0 {
		changed[at] = tile
	}
	return above, nil
}

// top is the hash over a whole tile.
func top(tile []byte) Hash {
	var level [width]tlog.Hash
	for i := range level {
		copy(level[i][:], tile[i*tlog.HashSize:])
	}
	for n := width; n > 1; n /= 2 {
		for i := range n / 2 {
			level[i] = tlog.NodeHash(level[2*i], level[2*i+1])
		}
	}
	return level[0]
}

// reader reads single hashes out of the tiles, each tile once.
func (t Tiles) reader() tlog.HashReader {
	t = t.Kept()
	return tlog.HashReaderFunc(func(indexes []int64) ([]Hash, error) {
		hashes := make([]Hash, len(indexes))
		for i, index := range indexes {
			tile := tlog.TileForIndex(height, index)
			at := At{tile.L, tile.N}
			data, err := t(at)
			if err != nil {
				return nil, err
			}
			if len(data) < tile.W*tlog.HashSize {
				return nil, fmt.Errorf("the log's tile %d on level %d is not whole", at.N, at.Level)
			}
			if hashes[i], err = tlog.HashFromTile(tile, data[:tile.W*tlog.HashSize], index); err != nil {
				return nil, err
			}
		}
		return hashes, nil
	})
}

// Root is the hash over the first entries of the log.
func (t Tiles) Root(size int64) (Hash, error) { return tlog.TreeHash(size, t.reader()) }

// Included proves that the log of some size holds an entry, counted from 0.
func (t Tiles) Included(size, index int64) (tlog.RecordProof, error) {
	return tlog.ProveRecord(size, index, t.reader())
}

// Grown proves that the log of some size has grown out of a smaller one. Nothing has to
// be proven of an empty one.
func (t Tiles) Grown(size, from int64) (tlog.TreeProof, error) {
	if from == 0 {
		return nil, nil
	}
	return tlog.ProveTree(size, from, t.reader())
}

// Kept are tiles of which each is read once.
func (t Tiles) Kept() Tiles {
	kept := map[At][]byte{}
	return func(at At) ([]byte, error) {
		if tile, there := kept[at]; there {
			return tile, nil
		}
		tile, err := t(at)
		if err == nil {
			kept[at] = tile
		}
		return tile, err
	}
}
