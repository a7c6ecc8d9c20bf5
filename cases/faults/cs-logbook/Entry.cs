public class Entry
{
    public int Hour;
    public string Mark;

    public Entry(int hour, string mark)
    {
        Hour = hour;
        Mark = mark;
    }

    public string Line()
    {
        return Hour + "h " + Mark.Trim();
    }
}
