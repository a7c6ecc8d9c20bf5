using System;

public class Program
{
    public static void Main()
    {
        Logbook book = new Logbook(4);
        Clock clock = new Clock(22);
        string[] marks = { "buoy", "spit", "mill", "quay" };
        for (int i = 0; i < marks.Length; i++)
        {
            book.Write(i, new Entry(clock.Hour, marks[i]));
            clock.Pass(i + 1);
        }
        Console.WriteLine(book.Text());
        Console.WriteLine("last " + book.Last().Mark.ToUpper());
    }
}
