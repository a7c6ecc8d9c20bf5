using System;
using System.Text;

public class Logbook
{
    private Entry[] entries;
    private int written;

    public Logbook(int size)
    {
        entries = new Entry[size];
    }

    public void Write(int at, Entry entry)
    {
        entries[at] = entry;
        written++;
    }

    public Entry Last()
    {
        return entries[written - 1];
    }

    public string Text()
    {
        StringBuilder text = new StringBuilder();
        for (int i = 0; i < entries.Length; i++)
        {
            text.Append(entries[i].Line());
            text.Append("; ");
        }
        return text.ToString();
    }
}
