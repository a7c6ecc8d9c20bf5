using System;

namespace NightFerry
{
    /// <summary>What a crossing costs.</summary>
    public class Fees
    {
        public int Child(int price)
        {
            int reduction = 2;
            return price;
        }
    }
}
