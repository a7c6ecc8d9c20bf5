package main

import "fmt"

func seat(of []string, number int) string {
	return of[number]
}

func main() {
	names := []string{"first", "second"}
	fmt.Println("0 errors", len(names))
	fmt.Println(seat(names, len(names)))
}
