// Package jobs is the work that follows acts, and what is done again and again.
//
// A job is made in the act's transaction and run after it. Each capability registers
// its workers and its duties (Registry) in one line each where the server is put
// together; what one of them fails at keeps no other from running.
package jobs

import (
	"time"

	"github.com/google/uuid"
	"github.com/riverqueue/river"
)

// The queues there are. What waits in one keeps nothing waiting in another.
const (
	Mail     = "mail"
	Scanning = "scan"
	Pages    = "pages"
	Evidence = "evidence"
	// Storing is what is done to stored content, one after the other.
	Storing = "storing"
	// Finding is keeping the words by which documents are found.
	Finding = "finding"
	// Routing is what documents on their way along routes do by themselves.
	Routing = "routing"
	// Signing is sealing papers that were signed.
	Signing = "signing"
	// Duties are what is done again and again.
	Duties = "duties"
)

// workers is how many jobs of a queue run at once in a process.
var workers = map[string]river.QueueConfig{
	Mail: {MaxWorkers: 8}, Scanning: {MaxWorkers: 4}, Pages: {MaxWorkers: 2}, Evidence: {MaxWorkers: 2}, Storing: {MaxWorkers: 1}, Finding: {MaxWorkers: 1}, Routing: {MaxWorkers: 4}, Signing: {MaxWorkers: 2}, Duties: {MaxWorkers: 4},
	// What was enqueued before there were queues.
	river.QueueDefault: {MaxWorkers: 4},
}

// SendMail sends one message to one address.
type SendMail struct {
	To      string `json:"to"`
	ToName  string `json:"toName"`
	From    string `json:"from"`
	ReplyTo string `json:"replyTo"`
	Subject string `json:"subject"`
	Text    string `json:"text"`
}

// Kind names the job.
func (SendMail) Kind() string { return "send_mail" }

// InsertOpts says in which queue it waits.
func (SendMail) InsertOpts() river.InsertOpts { return river.InsertOpts{Queue: Mail} }

// Forward hands a mail over to the mail server for one recipient.
type Forward struct {
	Mailing uuid.UUID `json:"mailing"`
	To      string    `json:"to"`
}

// Kind names the job.
func (Forward) Kind() string { return "forward_mail" }

// Patience is how long a mail server may take to take a large mail.
func (Forward) Patience() time.Duration { return 15 * time.Minute }

// InsertOpts says in which queue it waits.
func (Forward) InsertOpts() river.InsertOpts { return river.InsertOpts{Queue: Mail} }

// DropContent drops stored content that nothing needs any more.
type DropContent struct {
	Places []uuid.UUID `json:"places"`
}

// Kind names the job.
func (DropContent) Kind() string { return "drop-content" }

// Scan looks content through for what is sensitive, that has come in as a version
// of a document.
type Scan struct {
	Item      uuid.UUID `json:"item"`
	SHA256    []byte    `json:"sha256"`
	MediaType string    `json:"mediaType"`
}

// Kind names the job.
func (Scan) Kind() string { return "scan" }

// InsertOpts says in which queue it waits.
func (Scan) InsertOpts() river.InsertOpts { return river.InsertOpts{Queue: Scanning} }

// Index keeps the words by which a document is found, after it or what stands beside it
// changed.
type Index struct {
	Item uuid.UUID `json:"item"`
}

// Kind names the job.
func (Index) Kind() string { return "index" }

// InsertOpts says in which queue it waits.
func (Index) InsertOpts() river.InsertOpts { return river.InsertOpts{Queue: Finding} }

// RunStop does what a stop of a run does by itself.
type RunStop struct {
	Run uuid.UUID `json:"run"`
	// Visit is the how manieth stop of the run it is.
	Visit int `json:"visit"`
}

// Kind names the job.
func (RunStop) Kind() string { return "run-stop" }

// InsertOpts says in which queue it waits.
func (RunStop) InsertOpts() river.InsertOpts { return river.InsertOpts{Queue: Routing} }

// SealPaper brings a signed paper up to what its parties have done.
type SealPaper struct {
	Signing uuid.UUID `json:"signing"`
}

// Kind names the job.
func (SealPaper) Kind() string { return "seal-paper" }

// InsertOpts says in which queue it waits.
func (SealPaper) InsertOpts() river.InsertOpts { return river.InsertOpts{Queue: Signing} }

// Patience is how long it may take: other authorities are asked.
func (SealPaper) Patience() time.Duration { return 5 * time.Minute }

// SendForms sends a form to those of many to whom it was not sent yet.
type SendForms struct {
	Batch uuid.UUID `json:"batch"`
}

// Kind names the job.
func (SendForms) Kind() string { return "send-forms" }

// InsertOpts says in which queue it waits.
func (SendForms) InsertOpts() river.InsertOpts { return river.InsertOpts{Queue: Signing} }

// Patience is how long it may take: each paper is set on pages by itself.
func (SendForms) Patience() time.Duration { return time.Hour }

// Heed looks what an event starts, and what it means for runs under way.
type Heed struct {
	Event   int64      `json:"event"`
	What    string     `json:"kind"`
	Dossier uuid.UUID  `json:"dossier"`
	Item    uuid.UUID  `json:"item"`
	By      *uuid.UUID `json:"by,omitempty"`
}

// Kind names the job.
func (Heed) Kind() string { return "heed" }

// InsertOpts says in which queue it waits.
func (Heed) InsertOpts() river.InsertOpts { return river.InsertOpts{Queue: Routing} }
