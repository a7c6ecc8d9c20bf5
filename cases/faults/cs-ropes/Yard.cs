using System;
using System.Collections.Generic;

public class Yard
{
    private string name;
    private List<Rope> ropes = new List<Rope>();

    public Yard(string name)
    {
        this.name = name;
    }

    public void Lay(string mark, int metres)
    {
        Rope rope = new Rope(mark, metres);
        ropes.Add(rope);
    }

    public void Cut(string mark, int metres)
    {
        Rope rope = Find(mark);
        rope.Shorten(metres);
    }

    public Rope Find(string mark)
    {
        foreach (Rope rope in ropes)
        {
            if (rope.Mark == mark)
            {
                return rope;
            }
        }
        return null;
    }

    public string Report()
    {
        int sum = 0;
        for (int i = 0; i < ropes.Count; i++)
        {
            sum += ropes[i].Metres;
        }
        return name.ToUpper() + " holds " + sum + " in " + ropes.Count;
    }
}
