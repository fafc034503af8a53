package apiview

// Given gives what a parameter was set to; the zero value without it.
func Given[T any](p *T) T {
	if p == nil {
		var zero T
		return zero
	}
	return *p
}
