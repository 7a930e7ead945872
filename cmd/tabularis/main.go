// Command tabularis is the whole application: server, demo and care.
package main

import (
	"context"
	"fmt"
	"os"
	"os/signal"
	"syscall"

	"tabularis/internal/platform/reading"
)

func main() {
	reading.Enter()
	ctx, stop := signal.NotifyContext(context.Background(), os.Interrupt, syscall.SIGTERM)
	defer stop()
	if err := root().ExecuteContext(ctx); err != nil {
		fmt.Fprintln(os.Stderr, "tabularis:", err)
		os.Exit(1)
	}
}
