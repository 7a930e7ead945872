// Package jobs holds the work that follows acts: what it needs, and the workers
// that do it. Jobs are made in the act's transaction and run after it.
package jobs

import "github.com/google/uuid"

// SendMail sends one message to one address.
type SendMail struct {
	To      string `json:"to"`
	ToName  string `json:"toName"`
	From    string `json:"from"`
	ReplyTo string `json:"replyTo"`
	Subject string `json:"subject"`
	Text    string `json:"text"`
}

// Kind names the job in the queue.
func (SendMail) Kind() string { return "send_mail" }

// Scan looks content through for what is sensitive, that has come in as a version
// of a document.
type Scan struct {
	Item      uuid.UUID `json:"item"`
	SHA256    []byte    `json:"sha256"`
	MediaType string    `json:"mediaType"`
}

// Kind names the job in the queue.
func (Scan) Kind() string { return "scan" }

// Clean removes what is no longer needed.
type Clean struct{}

// Kind names the job in the queue.
func (Clean) Kind() string { return "clean" }
