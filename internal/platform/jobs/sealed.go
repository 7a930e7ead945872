package jobs

import (
	"encoding/json"
	"fmt"

	"github.com/riverqueue/river"

	"tabularis/internal/platform/secret"
)

// purpose is what the arguments of a job are sealed for.
func purpose(kind string) string { return "job " + kind }

// sealing is a job on its way into the queue. What it needs, such as the text of a
// mail with a link in it, lies sealed in the database.
type sealing struct {
	kind   string
	sealed []byte
	opts   river.InsertOpts
}

func seal(keys *secret.Keys, args river.JobArgs) (sealing, error) {
	raw, err := json.Marshal(args)
	if err != nil {
		return sealing{}, fmt.Errorf("writing down a job: %w", err)
	}
	s := sealing{kind: args.Kind(), sealed: keys.Seal(raw, purpose(args.Kind()))}
	if says, ok := args.(river.JobArgsWithInsertOpts); ok {
		s.opts = says.InsertOpts()
	}
	return s, nil
}

// Kind names the job in the queue.
func (s sealing) Kind() string { return s.kind }

// InsertOpts says in which queue it waits.
func (s sealing) InsertOpts() river.InsertOpts { return s.opts }

// MarshalJSON writes what Sealed reads.
func (s sealing) MarshalJSON() ([]byte, error) {
	return json.Marshal(map[string][]byte{"sealed": s.sealed})
}

// sealed is a job as a worker finds it.
type sealed[A river.JobArgs] struct {
	sealed []byte
	// plain is what one from before jobs were sealed needs.
	plain json.RawMessage
}

// UnmarshalJSON reads what sealing wrote.
func (s *sealed[A]) UnmarshalJSON(raw []byte) error {
	var found struct{ Sealed []byte }
	s.plain = append(json.RawMessage{}, raw...)
	err := json.Unmarshal(raw, &found)
	s.sealed = found.Sealed
	return err
}

// MarshalJSON is not used: a worker writes no jobs.
func (s sealed[A]) MarshalJSON() ([]byte, error) { return s.plain, nil }

// Kind names the job in the queue.
func (sealed[A]) Kind() string {
	var args A
	return args.Kind()
}

func (s sealed[A]) open(keys *secret.Keys) (args A, err error) {
	raw := []byte(s.plain)
	if s.sealed != nil {
		if raw, err = keys.Open(s.sealed, purpose(args.Kind())); err != nil {
			return args, fmt.Errorf("opening a job: %w", err)
		}
	}
	return args, json.Unmarshal(raw, &args)
}
