using System;

public class Rope
{
    public string Mark;
    public int Metres;

    public Rope(string mark, int metres)
    {
        Mark = mark;
        Metres = metres;
    }

    public void Shorten(int metres)
    {
        if (metres > Metres)
        {
            throw new InvalidOperationException(Mark + " has only " + Metres);
        }
        Metres -= metres;
    }
}
