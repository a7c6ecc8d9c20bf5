// A part of the Night Ferry.
using System;
public class Ferry {
  static System.Collections.Generic.SortedDictionary<string, Func<int, string, object>> deeds = new System.Collections.Generic.SortedDictionary<string, Func<int, string, object>>(StringComparer.Ordinal);

  static object NullDeed(int i, string who) {
    string wick = null; return wick.Length;
  }

  static object IndexDeed(int i, string who) {
    var rope = new int[6]; return rope[6 + i];
  }

  static object ListDeed(int i, string who) {
    return new System.Collections.Generic.List<int>()[i];
  }

  static object KeyDeed(int i, string who) {
    return new System.Collections.Generic.Dictionary<string, int>()[who];
  }

  static object CastDeed(int i, string who) {
    object berth = who; return (int) berth;
  }

  static object NumberDeed(int i, string who) {
    return int.Parse("oar " + who);
  }

  static object ToldDeed(int i, string who) {
    throw new System.InvalidOperationException("no sail for " + who + " at pier " + i);
  }

  static object ToldDeedArgument(int i, string who) {
    throw new System.ArgumentException("the lamp is at " + i + " of 6");
  }

  static object ZeroDeed(int i, string who) {
    int bell = 0; return i / bell;
  }

  static object FileDeedA(int i, string who) {
    return System.IO.File.ReadAllText("packs/reed_night.json").Length;
  }

  static object FileDeedB(int i, string who) {
    return System.IO.File.ReadAllText("packs/hull_day" + i + ".json").Length;
  }

  static object CausedDeed(int i, string who) {
    try { string mast = null; return mast.Length; } catch (System.Exception e) { throw new System.Exception("cannot board " + who, e); }
  }

  static object EmptyDeed(int i, string who) {
    return new System.Collections.Generic.Queue<int>().Dequeue();
  }

  static object OverDeed(int i, string who) {
    return checked((byte) (i + 300));
  }

  static object Moor(string boat) {
    return boat.Trim();
  }
  static object Quay(int i, string who) { return Moor(null); }
  static object Harbour(int i, string who) { return Moor(null); }
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
      try { deeds[name](n % 90, names[n % names.Length]); } catch (Exception e) { Console.WriteLine("Unhandled Exception:"); Console.WriteLine(e); }
      Console.WriteLine("the ferry goes on, " + n + " m");
    }
  }
}
