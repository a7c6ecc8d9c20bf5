using System;

namespace NightFerry
{
    /// <summary>What the evening brought.</summary>
    public class Report
    {
        public int Sum()
        {
            return Ticket.Price * 12;
        }

        public int Sold(Ticket ticket)
        {
            return ticket.Sold;
        }
    }
}
