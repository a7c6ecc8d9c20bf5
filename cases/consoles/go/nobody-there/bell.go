package main

type Bell struct{ rope *Rope }
type Rope struct{ length int }

func (b *Bell) Ring() int {
	return b.rope.length
}

func main() {
	println((&Bell{}).Ring())
}
