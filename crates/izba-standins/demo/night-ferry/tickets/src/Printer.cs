using System;

namespace NightFerry
{
    /// <summary>Prints tickets.</summary>
    public class Printer
    {
        public int Width(int signs)
        {
            int margin = 3 + ;
            return signs + margin;
        }
    }
}
