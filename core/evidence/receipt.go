package evidence

import (
	"crypto/sha256"
	"encoding/hex"
	"fmt"
	"maps"
	"slices"
	"strings"
)

// The files of a receipt, and the signed note that names the hashes of the other two.
const (
	ReceiptPaper = "receipt.pdf"
	ReceiptFile  = "receipt.json"
	ReceiptNote  = "receipt.txt"
)

const receiptFormat = "tabularis-receipt/1"

// ReceiptText is what is signed of a receipt: its form, and each file with its SHA-256.
func ReceiptText(files map[string][]byte) string {
	text := receiptFormat + "\n"
	for _, name := range slices.Sorted(maps.Keys(files)) {
		sum := sha256.Sum256(files[name])
		text += hex.EncodeToString(sum[:]) + "  " + name + "\n"
	}
	return text
}

// CheckReceipt adds to a report what a signed receipt proves. hashes are those of the
// archive's files, in hexadecimal.
func CheckReceipt(r *Report, signed string, keys []string, hashes map[string]string) {
	n, err := OpenNote(signed, keys)
	if err != nil {
		r.wrong("The receipt: %v.", err)
		return
	}
	lines := strings.Split(strings.TrimSuffix(n.Text, "\n"), "\n")
	if lines[0] != receiptFormat {
		r.wrong("The receipt is of the form %q; this checker knows %s.", lines[0], receiptFormat)
		return
	}
	for _, l := range lines[1:] {
		sum, name, _ := strings.Cut(l, "  ")
		if hashes[name] != sum {
			r.wrong("%s is not the file that was signed.", name)
		} else {
			r.proven("%s is signed as it is by the key %s.", name, shortKey(n.Key))
		}
	}
}

// FindNote finds a signed note in a text, as in a message to a witness.
func FindNote(text string) (signed string, err error) {
	lines := strings.Split(strings.ReplaceAll(text, "\r\n", "\n"), "\n")
	for i := range lines {
		// Three lines, an empty one, and signatures.
		end := i + 4
		for end < len(lines) && strings.HasPrefix(lines[end], "— ") {
			end++
		}
		if end > i+4 && lines[i+3] == "" && lines[i] != "" {
			return strings.Join(lines[i:end], "\n") + "\n", nil
		}
	}
	return "", fmt.Errorf("there is no checkpoint in it")
}
