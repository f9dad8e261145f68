package collector

import "gladember/core/airflow"

// start is what the searches of one rating begin from, each from what the one before found, so that a rating depends on its inputs alone.
// With it goes what is moved of the ways through screens. It serves one rating at a time; nil is a search that begins anew.
type start struct {
	tune      Tuning
	crossings map[*crossing]*airflow.CrossingStart
}

// of is what a search of a crossing begins from.
func (s *start) of(x *crossing) *airflow.CrossingStart {
	if s == nil {
		return nil
	}
	if s.crossings == nil {
		s.crossings = map[*crossing]*airflow.CrossingStart{}
	}
	if s.crossings[x] == nil {
		s.crossings[x] = &airflow.CrossingStart{}
	}
	return s.crossings[x]
}

// in is a pressure element in the rating: the crossings in it begin from what was found before.
func (s *start) in(e airflow.Element) airflow.Element {
	if s == nil {
		return e
	}
	switch e := e.(type) {
	case crossed:
		return crossed{e.of, e.share, s}
	case shared:
		return shared{s.all(e.of), e.n}
	case inTurn:
		return inTurn(s.all(e))
	case airflow.Parallel:
		return airflow.Parallel(s.all(e))
	case airflow.Manifold:
		e.Kinds = s.all(e.Kinds)
		return e
	}
	return e
}

// all are several elements in the rating.
func (s *start) all(es []airflow.Element) (out []airflow.Element) {
	for _, e := range es {
		out = append(out, s.in(e))
	}
	return out
}
