using System;

class Gate {
    int[] seats = new int[3];

    int Sell(int seat) {
        return seats[seat];
    }

    static void Main() {
        var gate = new Gate();
        Console.WriteLine(gate.Sell(2));
        Console.WriteLine(gate.Sell(3));
    }
}
