namespace NightFerry
{
    /// <summary>One ticket for one crossing.</summary>
    public class Ticket
    {
        public static int Sold = 0;
        public int Price = 4;
        public string Name = "";
        private int number = 0;

        public Ticket(string name)
        {
            Name = name;
            Sold = Sold + 1;
            number = Sold;
        }

        public string Line()
        {
            return Name + " " + Price + " (" + number + ")";
        }
    }
}
