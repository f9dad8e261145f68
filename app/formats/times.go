package formats

import (
	"math"
	"strconv"
	"strings"
	"time"
	"unicode"
)

// Order is how the numbers of a date such as 2/7/2026 follow each other.
type Order int

// The orders. What is written with the year first, or with the month by its name, needs none.
const (
	DayFirst Order = iota
	MonthFirst
)

// stamp is a time taken apart.
type stamp struct {
	year, month, day int
	first, second    int // of a date whose order decides; both 0 where it does not matter
	hour, min        int
	sec, nano        int
	offset           *time.Location // of its own; nil for the clock of the place
	absolute         time.Time      // seconds since 1970
}

// months by the first three letters of their names, in the languages whose loggers we have heard of.
var months = map[string]int{"jan": 1, "feb": 2, "mar": 3, "apr": 4, "may": 5, "jun": 6, "jul": 7, "aug": 8, "sep": 9, "oct": 10, "nov": 11,
	"dec": 12, "mai": 5, "okt": 10, "dez": 12, "mrz": 3, "fev": 2, "avr": 4, "ago": 8, "ene": 1, "dic": 12, "mag": 5, "giu": 6, "lug": 7,
	"set": 9, "ott": 10, "gen": 1, "abr": 4}

// parse takes a time apart. ok is false for what is none.
func parse(text string) (s stamp, ok bool) {
	text = strings.TrimSpace(text)
	if len(text) < 6 || len(text) > 48 {
		return s, false
	}
	if s.plain(text) {
		return s, true
	}
	if c := text[0]; c >= '0' && c <= '9' || c == '.' {
		if s.absolute, ok = epoch(text); ok {
			return s, true
		}
	}
	low := strings.ToLower(strings.ReplaceAll(text, "\u202f", " "))
	low, s.offset, ok = cutOffset(low)
	if !ok {
		return s, false
	}
	low, half := cutHalf(low)
	date, clock := cutClock(low)
	if !s.date(date) {
		return s, false
	}
	return s, s.clock(clock, half)
}

// plain reads the commonest way, 2006-01-02 15:04:05 with a t or a blank and with seconds or without, which most of a million lines
// are.
func (s *stamp) plain(t string) bool {
	n := len(t)
	if n != 16 && n != 19 || t[4] != '-' || t[7] != '-' || t[10] != ' ' && t[10] != 'T' || t[13] != ':' || n == 19 && t[16] != ':' {
		return false
	}
	two := func(i int) int {
		a, b := int(t[i])-'0', int(t[i+1])-'0'
		if a < 0 || a > 9 || b < 0 || b > 9 {
			return -1
		}
		return 10*a + b
	}
	century, year, month, day, hour, minute, sec := two(0), two(2), two(5), two(8), two(11), two(14), 0
	if n == 19 {
		sec = two(17)
	}
	if century < 0 || year < 0 || month < 0 || day < 0 || hour < 0 || hour > 24 || minute < 0 || minute > 59 || sec < 0 || sec > 60 {
		return false
	}
	s.year, s.month, s.day, s.hour, s.min, s.sec = 100*century+year, month, day, hour, minute, sec
	return s.year >= 1990 && s.year <= 2100
}

// epoch reads seconds, milliseconds or microseconds since 1970, from 1990 to 2100.
func epoch(text string) (time.Time, bool) {
	v, err := strconv.ParseFloat(text, 64)
	if err != nil {
		return time.Time{}, false
	}
	const from, to = 631152000.0, 4102444800.0
	for _, by := range []float64{1, 1e3, 1e6} {
		if sec := v / by; sec >= from && sec < to {
			whole := math.Floor(sec)
			return time.Unix(int64(whole), int64((sec-whole)*1e9)).Round(time.Microsecond), true
		}
	}
	return time.Time{}, false
}

// cutOffset takes an offset off the end: z, utc, +01:00, -0500.
func cutOffset(s string) (rest string, zone *time.Location, ok bool) {
	for _, name := range []string{"utc", "gmt", "z"} {
		if t, found := strings.CutSuffix(s, name); found && strings.ContainsAny(t, ":0123456789") && !strings.HasSuffix(t, "-") {
			return strings.TrimSpace(t), time.UTC, true
		}
	}
	i := strings.LastIndexAny(s, "+-")
	if i < 0 {
		return s, nil, true
	}
	before := strings.TrimSpace(strings.TrimSuffix(strings.TrimSpace(s[:i]), "gmt"))
	clock := before[strings.LastIndexAny(before, " t")+1:]
	if !strings.Contains(clock, ":") || strings.Contains(clock, "-") { // a sign of the date
		return s, nil, true
	}
	digits := strings.ReplaceAll(s[i+1:], ":", "")
	n, err := strconv.Atoi(digits)
	if err != nil || len(digits) != 4 && len(digits) != 2 {
		return s, nil, false
	}
	if len(digits) == 2 {
		n *= 100
	}
	sec := (n/100*60 + n%100) * 60
	if s[i] == '-' {
		sec = -sec
	}
	if sec < -14*3600 || sec > 14*3600 {
		return s, nil, false
	}
	return before, time.FixedZone("", sec), true
}

// halves are the ways to write am and pm.
var halves = strings.NewReplacer("a.m.", "am", "p.m.", "pm", "a. m.", "am", "p. m.", "pm")

// cutHalf takes am or pm off the end: 0 for none, 1 for am, 2 for pm.
func cutHalf(s string) (rest string, half int) {
	if !strings.ContainsRune(s, 'm') {
		return s, 0
	}
	t := strings.TrimSpace(halves.Replace(s))
	if rest, ok := strings.CutSuffix(t, "am"); ok {
		return strings.TrimSpace(rest), 1
	}
	if rest, ok := strings.CutSuffix(t, "pm"); ok {
		return strings.TrimSpace(rest), 2
	}
	return t, 0
}

// cutClock parts the date from the time of day, whichever comes first.
func cutClock(s string) (date, clock string) {
	s = strings.Replace(s, ", ", " ", 1)
	if len(s) > 10 && s[10] == 't' {
		s = s[:10] + " " + s[11:]
	}
	i := strings.IndexByte(s, ':')
	if i < 0 {
		return compact(s)
	}
	begin := strings.LastIndexAny(s[:i], " ")
	if begin < 0 { // the clock comes first
		clock, date, _ = strings.Cut(s, " ")
		return strings.TrimSpace(date), clock
	}
	return strings.TrimSpace(s[:begin]), strings.TrimSpace(s[begin+1:])
}

// compact parts 20260210 1230, 20260210t123000 and 202602101230.
func compact(s string) (date, clock string) {
	digits := strings.ReplaceAll(strings.ReplaceAll(s, "t", ""), " ", "")
	if strings.ContainsFunc(digits, func(r rune) bool { return !unicode.IsDigit(r) }) || len(digits) < 8 {
		return s, ""
	}
	date, clock = digits[:4]+"-"+digits[4:6]+"-"+digits[6:8], ""
	switch len(digits) {
	case 12:
		clock = digits[8:10] + ":" + digits[10:12]
	case 14:
		clock = digits[8:10] + ":" + digits[10:12] + ":" + digits[12:14]
	case 8:
	default:
		return s, ""
	}
	return date, clock
}

// date reads a date into the stamp.
func (s *stamp) date(text string) bool {
	parts := strings.FieldsFunc(text, func(r rune) bool { return r == '/' || r == '-' || r == '.' || r == ' ' || r == ',' })
	var nums []int
	named := 0
	for _, p := range parts {
		if n, err := strconv.Atoi(p); err == nil {
			if n < 0 || n > 2100 {
				return false
			}
			nums = append(nums, n)
			continue
		}
		if m, ok := months[prefix(p)]; ok {
			named = m
		} else if !weekday(p) {
			return false
		}
	}
	switch {
	case named > 0 && len(nums) == 2:
		s.month, s.day, s.year = named, nums[0], nums[1]
		if nums[0] > 31 {
			s.day, s.year = nums[1], nums[0]
		}
	case len(nums) != 3 || named > 0:
		return false
	case nums[0] > 31:
		s.year, s.month, s.day = nums[0], nums[1], nums[2]
	case strings.Contains(text, "."): // only those who put the day first write dots
		s.day, s.month, s.year = nums[0], nums[1], nums[2]
	default:
		s.first, s.second, s.year = nums[0], nums[1], nums[2]
	}
	if s.year < 100 {
		s.year += 2000
	}
	return s.year >= 1990 && s.year <= 2100
}

// prefix is the first three letters of a word.
func prefix(s string) string {
	r := []rune(strings.TrimSuffix(s, "."))
	if len(r) < 3 {
		return ""
	}
	return string(r[:3])
}

// weekday says whether a word is a day of the week, in English or German.
func weekday(s string) bool {
	switch strings.TrimSuffix(s, ".") {
	case "mon", "tue", "wed", "thu", "fri", "sat", "sun", "monday", "tuesday", "wednesday", "thursday", "friday", "saturday", "sunday",
		"mo", "di", "mi", "do", "fr", "sa", "so":
		return true
	}
	return false
}

// clock reads a time of day into the stamp; half is 1 for am and 2 for pm.
func (s *stamp) clock(text string, half int) bool {
	if text == "" {
		return half == 0
	}
	whole, frac, _ := strings.Cut(strings.ReplaceAll(text, ",", "."), ".")
	parts := strings.Split(whole, ":")
	if len(parts) < 2 || len(parts) > 3 {
		return false
	}
	var n [3]int
	for i, p := range parts {
		v, err := strconv.Atoi(p)
		if err != nil || v < 0 || len(p) > 2 {
			return false
		}
		n[i] = v
	}
	if frac != "" {
		v, err := strconv.ParseFloat("0."+frac, 64)
		if err != nil {
			return false
		}
		s.nano = int(v * 1e9)
	}
	switch {
	case half > 0 && (n[0] < 1 || n[0] > 12):
		return false
	case half == 1 && n[0] == 12:
		n[0] = 0
	case half == 2 && n[0] < 12:
		n[0] += 12
	}
	s.hour, s.min, s.sec = n[0], n[1], n[2]
	return n[0] < 25 && n[1] < 60 && n[2] < 61
}

// in is the instant of a stamp, by the clock of a zone where it has no offset of its own; ok is false for a day that there is not.
func (s *stamp) in(zone *time.Location, order Order) (t time.Time, ok bool) {
	if !s.absolute.IsZero() {
		return s.absolute, true
	}
	m, d := s.month, s.day
	if s.first > 0 {
		d, m = s.first, s.second
		if order == MonthFirst {
			m, d = d, m
		}
	}
	if s.offset != nil {
		zone = s.offset
	}
	if m < 1 || m > 12 || d < 1 || d > 31 {
		return t, false
	}
	t = time.Date(s.year, time.Month(m), d, s.hour, s.min, s.sec, s.nano, zone)
	return t, s.hour == 24 || t.Day() == d
}

// parseTime reads a local time in the zone, an absolute one, or seconds, milliseconds or microseconds since 1970.
func parseTime(s string, zone *time.Location, monthFirst bool) (time.Time, bool) {
	x, ok := parse(s)
	if !ok {
		return time.Time{}, false
	}
	order := DayFirst
	if monthFirst {
		order = MonthFirst
	}
	return x.in(zone, order)
}
