using System;
using System.Collections.Generic;
using System.IO;

public class Program
{
    static Dictionary<string, Action<Yard, string[]>> deeds = new Dictionary<string, Action<Yard, string[]>>();

    static void OnLay(Yard yard, string[] words)
    {
        yard.Lay(words[1], int.Parse(words[2]));
    }

    static void OnCut(Yard yard, string[] words)
    {
        yard.Cut(words[1], int.Parse(words[2]));
    }

    public static void Main()
    {
        deeds["lay"] = OnLay;
        deeds["cut"] = OnCut;
        Yard yard = new Yard("north");
        foreach (string line in File.ReadAllLines("orders.txt"))
        {
            string[] words = line.Split(' ');
            deeds[words[0]](yard, words);
        }
        Console.WriteLine(yard.Report());
    }
}
