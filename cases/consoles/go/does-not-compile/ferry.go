package main

import "os"

func main() {
	tide := 3
	println(tiide)
}
