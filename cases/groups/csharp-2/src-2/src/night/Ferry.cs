// A part of the Night Ferry.
using System;
public class Ferry {
  static System.Collections.Generic.SortedDictionary<string, Func<int, string, object>> deeds = new System.Collections.Generic.SortedDictionary<string, Func<int, string, object>>(StringComparer.Ordinal);
// Looked at on an evening in June.
// Looked at on an evening in June.
// Looked at on an evening in June.

  static object FileDeedA(int i, string who) {
    return System.IO.File.ReadAllText("packs/deck_night.json").Length;
  }

  static object KeyDeed(int i, string who) {
    return new System.Collections.Generic.Dictionary<string, int>()[who];
  }
// Mended on an evening in June.

  static object CastDeed(int i, string who) {
    object stamp = who; return (int) stamp;
  }
// Written on an evening in May.
// Written on an evening in May.

  static object ListDeed(int i, string who) {
    return new System.Collections.Generic.List<int>()[i];
  }
// Mended on an evening in June.
// Mended on an evening in June.
// Mended on an evening in June.

  static object FileDeedB(int i, string who) {
    return System.IO.File.ReadAllText("packs/chart_day" + i + ".json").Length;
  }
// Looked at on an evening in June.
// Looked at on an evening in June.

  static object OverDeed(int i, string who) {
    return checked((byte) (i + 300));
  }
// Mended on an evening in May.

  static object Moor(string boat) {
    return boat.Trim();
  }
  static object Quay(int i, string who) { return Moor(null); }
  static object Harbour(int i, string who) { return Moor(null); }
// Mended on an evening in June.
// Mended on an evening in June.
// Mended on an evening in June.

  static object NullDeed(int i, string who) {
    string ticket = null; return ticket.Length;
  }
// Mended on an evening in June.
// Mended on an evening in June.

  static object ToldDeedArgument(int i, string who) {
    throw new System.ArgumentException("the dock is at " + i + " of 6");
  }

  static object EmptyDeed(int i, string who) {
    return new System.Collections.Generic.Queue<int>().Dequeue();
  }

  static object NumberDeed(int i, string who) {
    return int.Parse("quay " + who);
  }
// Written on an evening in May.

  static object IndexDeed(int i, string who) {
    var fare = new int[6]; return fare[6 + i];
  }
// Written on an evening in June.

  static object CausedDeed(int i, string who) {
    try { string wave = null; return wave.Length; } catch (System.Exception e) { throw new System.Exception("cannot board " + who, e); }
  }
// Written on an evening in May.
// Written on an evening in May.

  static object ToldDeed(int i, string who) {
    throw new System.InvalidOperationException("no crew for " + who + " at pier " + i);
  }
// Looked at on an evening in June.
// Looked at on an evening in June.
// Looked at on an evening in June.

  static object ZeroDeed(int i, string who) {
    int cargo = 0; return i / cargo;
  }
  public static void Main(string[] args) {
    deeds["null"] = NullDeed;
    deeds["index"] = IndexDeed;
    deeds["list"] = ListDeed;
    deeds["key"] = KeyDeed;
    deeds["cast"] = CastDeed;
    deeds["number"] = NumberDeed;
    deeds["told"] = ToldDeed;
    deeds["told-argument"] = ToldDeedArgument;
    deeds["zero"] = ZeroDeed;
    deeds["file-a"] = FileDeedA;
    deeds["file-b"] = FileDeedB;
    deeds["caused"] = CausedDeed;
    deeds["empty"] = EmptyDeed;
    deeds["over"] = OverDeed;
    deeds["helper"] = Quay; deeds["helper#2"] = Harbour;
    string[] names = { "Ada Reed", "Bo", "Clementine Marsh", "Dov", "Elin of the Jetty", "Finn", "Gro Nilsen", "Hedy", "Ivo" };
    var order = new System.Collections.Generic.List<string>(deeds.Keys);
    int n = int.Parse(args[0]) * 1000;
    for (int turn = 0; turn < 17; turn++) for (int at = 0; at < order.Count; at++) {
      n++;
      string name = order[(at * 7 + turn * 3) % order.Count];
      Console.WriteLine("@@" + name.Split('#')[0]);
      try { deeds[name](n % 90, names[n % names.Length]); } catch (Exception e) { Console.WriteLine("{0:D2}:{1:D2}:{2:D2} ERROR Ferry: a deed failed", n % 24, n % 60, n % 59); Console.WriteLine(e); }
      Console.WriteLine("the ferry goes on, " + n + " m");
    }
  }
}
