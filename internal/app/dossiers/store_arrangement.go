package dossiers

import (
	"context"
	"encoding/json"

	"github.com/google/uuid"

	"tabularis/internal/platform/postgres"
)

func keepArrangement(ctx context.Context, q postgres.Q, person, folder uuid.UUID, a Arrangement) error {
	written, err := json.Marshal(a)
	if err != nil {
		return err
	}
	return postgres.Exec(ctx, q, `INSERT INTO arrangements (person_id, folder_id, arrangement) VALUES ($1, $2, $3) ON CONFLICT (person_id, folder_id) DO UPDATE SET arrangement = excluded.arrangement`, person, folder, written)
}

// arrangements are those of a person in a dossier, by folder.
func arrangements(ctx context.Context, q postgres.Q, person, dossier uuid.UUID) (map[uuid.UUID]Arrangement, error) {
	var rows []struct {
		Folder  uuid.UUID `db:"folder_id"`
		Written []byte    `db:"arrangement"`
	}
	if err := q.SelectContext(ctx, &rows, `SELECT a.folder_id, a.arrangement FROM arrangements a JOIN items i ON i.id = a.folder_id WHERE a.person_id = $1 AND i.dossier_id = $2`, person, dossier); err != nil {
		return nil, err
	}
	all := make(map[uuid.UUID]Arrangement, len(rows))
	for _, r := range rows {
		var a Arrangement
		if err := json.Unmarshal(r.Written, &a); err != nil {
			return nil, err
		}
		all[r.Folder] = a
	}
	return all, nil
}
