// Package state is all that a running home remembers from one start to the next, besides its definitions: plain data,
// which can be saved, copied whole and moved in time. Only copies of it leave the engine. It does no I/O and decides
// nothing.
package state

import (
	"maps"
	"reflect"
	"time"

	"amvek/core/thing"
)

// Saved is what the hub keeps of the engine from one start to the next, besides definitions.
type Saved struct {
	Properties map[thing.Ref]PropertyState
	Rules      map[string]RuleState
	Schedules  map[string]ScheduleState
	Devices    map[string]DeviceState
}

// Clone returns a copy that shares nothing with s.
func (s *Saved) Clone() Saved {
	clone := Saved{Properties: maps.Clone(s.Properties), Rules: maps.Clone(s.Rules), Schedules: maps.Clone(s.Schedules), Devices: maps.Clone(s.Devices)}
	for ref, p := range clone.Properties {
		clone.Properties[ref] = p.Clone()
	}
	for id, r := range clone.Rules {
		clone.Rules[id] = r.Clone()
	}
	for id, d := range clone.Devices {
		clone.Devices[id] = d.Clone()
	}
	return clone
}

// Shift moves all that is remembered of when something was, and of when a while ends. Times of the day stay.
func (s *Saved) Shift(by time.Duration) {
	for ref, p := range s.Properties {
		p.Shift(by)
		s.Properties[ref] = p
	}
	for id, r := range s.Rules {
		r.Shift(by)
		s.Rules[id] = r
	}
	for id, d := range s.Schedules {
		d.Shift(by)
		s.Schedules[id] = d
	}
	for id, d := range s.Devices {
		d.Shift(by)
		s.Devices[id] = d
	}
}

var timeType = reflect.TypeFor[time.Time]()

// shift moves every time, other than none, within what a pointer points to.
func shift(v reflect.Value, by time.Duration) {
	switch v.Kind() {
	case reflect.Pointer:
		if !v.IsNil() {
			shift(v.Elem(), by)
		}
	case reflect.Struct:
		if v.Type() == timeType {
			if t := v.Interface().(time.Time); !t.IsZero() {
				v.Set(reflect.ValueOf(t.Add(by)))
			}
			return
		}
		for i := range v.NumField() {
			if v.Type().Field(i).IsExported() {
				shift(v.Field(i), by)
			}
		}
	case reflect.Slice, reflect.Array:
		for i := range v.Len() {
			shift(v.Index(i), by)
		}
	case reflect.Map:
		for _, key := range v.MapKeys() {
			value := reflect.New(v.Type().Elem())
			value.Elem().Set(v.MapIndex(key))
			shift(value, by)
			v.SetMapIndex(key, value.Elem())
		}
	}
}
