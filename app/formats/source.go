package formats

import (
	"bufio"
	"bytes"
	"encoding/csv"
	"fmt"
	"io"
	"strings"
	"unicode"
	"unicode/utf8"

	"golang.org/x/text/encoding/charmap"
	utf "golang.org/x/text/encoding/unicode"
	"golang.org/x/text/transform"
)

// Bounds of one row of a table: bytes of a line, lines that a quoted name may go over, and columns.
const (
	maxLine    = 64 << 10
	maxWrapped = 12
	maxColumns = 256
)

// source is a file of text that is read row by row, as often as it takes, so that a long log is never in memory whole.
type source struct {
	file      io.ReaderAt
	size      int64
	code      func() transform.Transformer // from its bytes to UTF-8; nil for none
	delimiter rune
	convert   func(row []string) // what the cells of a spreadsheet are turned into; nil for none
}

// text is the file from its beginning, as UTF-8 without a mark.
func (s *source) text() *bufio.Reader {
	var r io.Reader = io.NewSectionReader(s.file, 0, s.size)
	if s.code != nil {
		r = transform.NewReader(r, s.code())
	}
	b := bufio.NewReaderSize(r, maxLine)
	if mark, err := b.Peek(3); err == nil && bytes.Equal(mark, []byte("\xef\xbb\xbf")) {
		_, _ = b.Discard(3)
	}
	return b
}

// newSource finds out how a file is written: UTF-8, UTF-16 with a mark or without, or the code of older Windows programs; and what
// parts its cells.
func newSource(file io.ReaderAt, size int64) (*source, error) {
	s := &source{file: file, size: size}
	head := make([]byte, min(size, maxLine))
	if _, err := file.ReadAt(head, 0); err != nil && err != io.EOF {
		return nil, fmt.Errorf("reading the log: %w", err)
	}
	switch order := unmarked(head); {
	case order != nil:
		s.code = func() transform.Transformer { return utf.UTF16(*order, utf.IgnoreBOM).NewDecoder() }
	case bytes.HasPrefix(head, []byte{0xff, 0xfe}), bytes.HasPrefix(head, []byte{0xfe, 0xff}):
		s.code = func() transform.Transformer { return utf.UTF16(utf.LittleEndian, utf.ExpectBOM).NewDecoder() }
	case !validUTF8(io.NewSectionReader(file, 0, size)):
		s.code = func() transform.Transformer { return charmap.Windows1252.NewDecoder() }
	}
	first, err := s.text().Peek(maxLine)
	if err != nil && err != io.EOF && err != bufio.ErrBufferFull {
		return nil, ErrNoTable
	}
	s.delimiter = delimiter(string(first))
	return s, nil
}

// unmarked is the order of UTF-16 without a mark, by the zeros that plain letters have in it; nil for anything else.
func unmarked(head []byte) *utf.Endianness {
	if len(head) < 8 || head[0] >= 0xfe {
		return nil
	}
	even, odd := 0, 0
	n := min(len(head)&^1, 400)
	for i, b := range head[:n] {
		if b == 0 && i%2 == 0 {
			even++
		} else if b == 0 {
			odd++
		}
	}
	order := utf.LittleEndian
	switch {
	case odd > n/2*8/10 && even == 0:
	case even > n/2*8/10 && odd == 0:
		order = utf.BigEndian
	default:
		return nil
	}
	return &order
}

// validUTF8 says whether all of a file is UTF-8.
func validUTF8(r io.Reader) bool {
	buf := make([]byte, 256<<10)
	kept := 0 // bytes of a letter that the last piece cut
	for {
		n, err := io.ReadFull(r, buf[kept:])
		piece := buf[:kept+n]
		end := err != nil
		cut := len(piece)
		if !end {
			for cut > 0 && cut > len(piece)-utf8.UTFMax && !utf8.RuneStart(piece[cut-1]) {
				cut--
			}
			cut = max(0, cut-1)
		}
		if !utf8.Valid(piece[:cut]) {
			return false
		}
		if end {
			return true
		}
		kept = copy(buf, piece[cut:])
	}
}

// rows runs through the rows of a source.
type rows struct {
	in      *bufio.Reader
	source  *source
	line    int      // of the row that was read last, from 1
	next    int      // lines read
	waiting []string // lines that were looked at and belong to the rows that follow
	failed  error    // what ended the lines
	cells   []string
}

func (s *source) rows() *rows { return &rows{in: s.text(), source: s} }

// take is the next line without its end; io.EOF at the end.
func (r *rows) take() (string, error) {
	r.next++
	if len(r.waiting) > 0 {
		l := r.waiting[0]
		r.waiting = r.waiting[1:]
		return l, nil
	}
	if r.failed != nil {
		return "", r.failed
	}
	b, err := r.in.ReadSlice('\n')
	switch {
	case err == bufio.ErrBufferFull:
		r.failed = fmt.Errorf("line %d has more than %d kB; save the log with one reading a line", r.next, maxLine>>10)
	case err != nil && err != io.EOF, bytes.IndexByte(b, 0) >= 0:
		r.failed = ErrNoTable
	case len(b) == 0:
		r.failed = io.EOF
	}
	if r.failed != nil {
		return "", r.failed
	}
	return string(bytes.TrimSuffix(bytes.TrimSuffix(b, []byte("\n")), []byte("\r"))), nil
}

// row is the next row that is not empty; io.EOF at the end. It is good until the next one is read.
func (r *rows) row() ([]string, error) {
	text := ""
	for text == "" {
		var err error
		if text, err = r.take(); err != nil {
			return nil, err
		}
	}
	r.line = r.next
	if strings.IndexByte(text, '"') >= 0 {
		if err := r.quoted(text); err != nil {
			return nil, err
		}
	} else {
		r.split(text)
	}
	if len(r.cells) > maxColumns {
		return nil, fmt.Errorf("line %d has more than %d columns; keep only those of the probes", r.line, maxColumns)
	}
	if r.source.convert != nil {
		r.source.convert(r.cells)
	}
	return r.cells, nil
}

// split parts a line without quotes.
func (r *rows) split(text string) {
	r.cells = r.cells[:0]
	for len(r.cells) <= maxColumns {
		end := strings.IndexByte(text, byte(r.source.delimiter)) // it is one of a few signs of ASCII
		cell := text
		if end >= 0 {
			cell = text[:end]
		}
		if cell != "" && (cell[0] == ' ' || cell[0] == '\t' || cell[0] >= utf8.RuneSelf) {
			cell = strings.TrimLeftFunc(cell, unicode.IsSpace)
		}
		r.cells = append(r.cells, cell)
		if end < 0 {
			return
		}
		text = text[end+1:]
	}
}

// quoted parts a line with quotes, and those after it over which a quoted name goes.
func (r *rows) quoted(text string) error {
	all, odd := text, strings.Count(text, `"`)%2 == 1
	var more []string
	for odd && len(more) < maxWrapped && len(all) < maxLine {
		l, err := r.take()
		if err != nil { // told when it is its turn, or the end
			r.next--
			break
		}
		more, all = append(more, l), all+"\n"+l
		odd = (strings.Count(l, `"`)%2 == 1) != odd
	}
	if odd {
		all = text // a sign for inches, say
	}
	c := csv.NewReader(strings.NewReader(all))
	c.Comma, c.LazyQuotes, c.FieldsPerRecord, c.TrimLeadingSpace = r.source.delimiter, true, -1, true
	cells, err := c.Read()
	if err != nil {
		return fmt.Errorf("%w (%v)", ErrNoTable, err)
	}
	r.cells = cells
	used := strings.Count(strings.TrimSuffix(all[:min(len(all), int(c.InputOffset()))], "\n"), "\n")
	r.waiting = append(more[min(used, len(more)):], r.waiting...)
	r.next -= len(more) - min(used, len(more))
	return nil
}

// delimiter picks the sign that splits the most of the first lines alike.
func delimiter(text string) rune {
	lines := strings.SplitN(text, "\n", 60)
	best, score := ',', 0
	for _, d := range []rune{';', '\t', '|', ','} {
		counts := map[int]int{}
		for _, l := range lines {
			if n := strings.Count(l, string(d)); n > 0 {
				counts[n]++
			}
		}
		for n, c := range counts {
			// A semicolon or a tab is never a decimal mark.
			if s := c * min(n, 8); s > score && (d != ',' || best == ',') {
				best, score = d, s
			}
		}
		if score > 0 && d != ',' {
			break
		}
	}
	return best
}
