using System;
using System.Collections.Generic;

class Passenger {
    public string Name;
}

class Gate {
    static Dictionary<string, Passenger> booked = new Dictionary<string, Passenger>();

    static int Letters(Passenger passenger) {
        return passenger.Name.Length;
    }

    static void Open(string ticket) {
        try {
            Passenger passenger;
            booked.TryGetValue(ticket, out passenger);
            Console.WriteLine(Letters(passenger));
        } catch (NullReferenceException problem) {
            throw new InvalidOperationException("the gate stays shut", problem);
        }
    }

    static void Main() {
        Open("A12");
    }
}
