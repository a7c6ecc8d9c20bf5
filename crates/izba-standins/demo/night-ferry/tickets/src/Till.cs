using System;

namespace NightFerry
{
    /// <summary>The till counts what was paid.</summary>
    public class Till
    {
        public int Taken(Ticket ticket)
        {
            int seats = "four";
            return ticket.Price * seats;
        }

        public string Check(Ticket ticket)
        {
            return ticket.Name + ticket.number;
        }
    }
}
