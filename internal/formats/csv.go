package formats

import (
	"bytes"
	"encoding/csv"
	"fmt"
	"strings"
)

// CSV writes a table (RFC 4180) in UTF-8 with a byte-order mark, which spreadsheets need to read "×". A
// cell that a spreadsheet would take for a formula gets an apostrophe in front.
func CSV(rows [][]string) ([]byte, error) {
	out := bytes.NewBufferString("\ufeff")
	w := csv.NewWriter(out)
	w.UseCRLF = true
	for _, row := range rows {
		safe := make([]string, len(row))
		for i, cell := range row {
			if cell != "" && strings.ContainsAny(cell[:1], "=+-@\t\r") {
				cell = "'" + cell
			}
			safe[i] = cell
		}
		if err := w.Write(safe); err != nil {
			return nil, fmt.Errorf("writing the table: %w", err)
		}
	}
	w.Flush()
	return out.Bytes(), w.Error()
}
