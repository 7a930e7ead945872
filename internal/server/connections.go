package server

import (
	"context"
	"runtime"

	"tabularis/internal/platform/postgres"
)

// Connections are those of one server process to its database.
type Connections struct {
	// DB serves everything but what Finding serves: statements that are planned once,
	// whatever is asked.
	DB, Finding *postgres.DB
}

// Connect opens a database, which must be migrated.
func Connect(ctx context.Context, url string) (*Connections, error) {
	db, err := postgres.Open(ctx, url, int32(max(16, 4*runtime.NumCPU())))
	if err != nil {
		return nil, err
	}
	if err := postgres.Fits(ctx, db); err != nil {
		db.Close()
		return nil, err
	}
	finding, err := postgres.OpenGeneric(ctx, url, int32(max(8, 2*runtime.NumCPU())))
	if err != nil {
		db.Close()
		return nil, err
	}
	return &Connections{DB: db, Finding: finding}, nil
}

// Close ends all connections.
func (c *Connections) Close() {
	c.Finding.Close()
	c.DB.Close()
}

func (c *Config) connections(ctx context.Context) (*Connections, error) {
	if c.Connections != nil {
		return c.Connections, nil
	}
	return Connect(ctx, c.DatabaseURL)
}
