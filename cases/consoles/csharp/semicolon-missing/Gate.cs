class Gate {
    static void Main() {
        int seats = 3
        System.Console.WriteLine(seats);
    }
}
