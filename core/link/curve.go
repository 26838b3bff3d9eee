package link

import "amvek/core/light"

// along returns where a curve of points is at x, both from 0 to 1. Before the first and behind the last it stays.
func along(points []CurvePoint, x float64) float64 {
	if x <= points[0].X {
		return points[0].Y
	}
	for i := 1; i < len(points); i++ {
		if a, b := points[i-1], points[i]; x <= b.X {
			return a.Y + (b.Y-a.Y)*(x-a.X)/(b.X-a.X)
		}
	}
	return points[len(points)-1].Y
}

// mapped lays a value of the range that comes in on the one that goes out; what is outside counts as its end.
func (s *Stage) mapped(v float64) float64 {
	x := min(1, max(0, (v-s.In.From)/(s.In.To-s.In.From)))
	switch s.Curve {
	case Eye:
		x = light.Luminance(x)
	case Points:
		x = along(s.Points, x)
	}
	return s.Out.From + (s.Out.To-s.Out.From)*x
}

// unmapped returns a value that comes in for one that goes out. The curve must go one way alone.
func (s *Stage) unmapped(v float64) float64 {
	y := min(1, max(0, (v-s.Out.From)/(s.Out.To-s.Out.From)))
	switch s.Curve {
	case Eye:
		y = light.Lightness(y)
	case Points:
		turned := make([]CurvePoint, len(s.Points))
		for i, p := range s.Points {
			at := i
			if s.Points[0].Y > s.Points[len(s.Points)-1].Y {
				at = len(s.Points) - 1 - i
			}
			turned[at] = CurvePoint{X: p.Y, Y: p.X}
		}
		y = along(turned, y)
	}
	return s.In.From + (s.In.To-s.In.From)*y
}
