using System;

namespace NightFerry
{
    /// <summary>Where tickets are sold.</summary>
    public class Booth
    {
        private Tiket last = null;

        public Ticket Sell(string name)
        {
            var ticket = new Ticket(name);
            return ticket;
        }
    }
}
