package state_test

import (
	"encoding/json"
	"fmt"
	"reflect"
	"strings"
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"amvek/core/state"
	"amvek/core/thing"
)

// full is a home's saved state in which everything that can be there is there.
func full(t *testing.T) *state.Saved {
	t.Helper()
	saved := &state.Saved{}
	fill(t, reflect.ValueOf(saved).Elem(), 0)
	return saved
}

var begin = time.Date(2026, 11, 20, 22, 0, 0, 0, time.UTC)

// fill gives everything within a value something, twice where there may be many.
func fill(t *testing.T, v reflect.Value, depth int) {
	t.Helper()
	require.Less(t, depth, 20)
	switch {
	case v.Type() == reflect.TypeFor[time.Time]():
		v.Set(reflect.ValueOf(begin))
		return
	case v.Type() == reflect.TypeFor[thing.Value]():
		v.Set(reflect.ValueOf(thing.Text("text")))
		return
	}
	switch v.Kind() {
	case reflect.Pointer:
		v.Set(reflect.New(v.Type().Elem()))
		fill(t, v.Elem(), depth+1)
	case reflect.Struct:
		for i := range v.NumField() {
			require.True(t, v.Type().Field(i).IsExported(), "%s.%s is saved by nobody", v.Type(), v.Type().Field(i).Name)
			fill(t, v.Field(i), depth+1)
		}
	case reflect.Slice:
		v.Set(reflect.MakeSlice(v.Type(), 2, 2))
		fill(t, v.Index(0), depth+1)
		fill(t, v.Index(1), depth+1)
	case reflect.Array:
		for i := range v.Len() {
			fill(t, v.Index(i), depth+1)
		}
	case reflect.Map:
		v.Set(reflect.MakeMap(v.Type()))
		key, value := reflect.New(v.Type().Key()), reflect.New(v.Type().Elem())
		fill(t, key.Elem(), depth+1)
		fill(t, value.Elem(), depth+1)
		v.SetMapIndex(key.Elem(), value.Elem())
	case reflect.String:
		v.SetString("text")
	case reflect.Bool:
		v.SetBool(true)
	case reflect.Float64:
		v.SetFloat(1.5)
	case reflect.Int, reflect.Int8, reflect.Int16, reflect.Int32, reflect.Int64:
		v.SetInt(3)
	case reflect.Uint, reflect.Uint8, reflect.Uint16, reflect.Uint32, reflect.Uint64:
		v.SetUint(3)
	default:
		require.Fail(t, "states hold plain data", "%s", v.Type())
	}
}

// places lists where maps, slices and pointers within a value point to.
func places(v reflect.Value, path string, at map[uintptr]string) {
	switch v.Kind() {
	case reflect.Pointer:
		at[v.Pointer()] = path
		places(v.Elem(), path, at)
	case reflect.Struct:
		if v.Type() == reflect.TypeFor[time.Time]() {
			return // its zone is nobody's to change
		}
		for i := range v.NumField() {
			places(v.Field(i), path+"."+v.Type().Field(i).Name, at)
		}
	case reflect.Slice:
		at[v.Pointer()] = path
		fallthrough
	case reflect.Array:
		for i := range v.Len() {
			places(v.Index(i), fmt.Sprintf("%s[%d]", path, i), at)
		}
	case reflect.Map:
		at[v.Pointer()] = path
		for _, key := range v.MapKeys() {
			places(v.MapIndex(key), fmt.Sprintf("%s[%v]", path, key), at)
		}
	}
}

func TestACloneSharesNothing(t *testing.T) {
	saved := full(t)
	clone := saved.Clone()
	require.Equal(t, *saved, clone)
	one, two := map[uintptr]string{}, map[uintptr]string{}
	places(reflect.ValueOf(*saved), "Saved", one)
	places(reflect.ValueOf(clone), "Saved", two)
	assert.Greater(t, len(one), 20, "what is looked at is full")
	for at, path := range two {
		if other, shared := one[at]; shared {
			t.Errorf("%s of the clone is %s of what was cloned", path, other)
		}
	}
}

// Moved in time, all times move but those of the day.
func TestAShiftMovesAllTimesButThoseOfTheDay(t *testing.T) {
	saved := full(t)
	saved.Shift(90 * time.Minute)
	data, err := json.Marshal(
		map[string]any{"properties": values(saved.Properties), "rules": saved.Rules, "schedules": saved.Schedules, "devices": saved.Devices},
	)
	require.NoError(t, err)
	var tree any
	require.NoError(t, json.Unmarshal(data, &tree))
	seen := 0
	var look func(path string, v any)
	look = func(path string, v any) {
		switch v := v.(type) {
		case map[string]any:
			for key, inner := range v {
				look(path+"/"+key, inner)
			}
		case []any:
			for _, inner := range v {
				look(path, inner)
			}
		case string:
			at, err := time.Parse(time.RFC3339, v)
			if err != nil {
				return
			}
			seen++
			stays := strings.Contains(path, "/nextTimes/") || (strings.HasPrefix(path, "/schedules/") && strings.HasSuffix(path, "/next"))
			want := begin.Add(90 * time.Minute)
			if stays {
				want = begin
			}
			assert.Equal(t, want, at, path)
		}
	}
	look("", tree)
	assert.Greater(t, seen, 30)
}

func values[K comparable, V any](m map[K]V) (list []V) {
	for _, v := range m {
		list = append(list, v)
	}
	return list
}

func TestAStateIsSavedAndReadAsItWas(t *testing.T) {
	for ref, p := range full(t).Properties {
		data, err := json.Marshal(p)
		require.NoError(t, err)
		var back state.PropertyState
		require.NoError(t, json.Unmarshal(data, &back))
		assert.Equal(t, p, back, ref)
	}
	for id, r := range full(t).Rules {
		data, err := json.Marshal(r)
		require.NoError(t, err)
		var back state.RuleState
		require.NoError(t, json.Unmarshal(data, &back))
		assert.Equal(t, r, back, id)
	}
}
