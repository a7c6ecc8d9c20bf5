// Prints the names that come with C#: the usual types of System, and their public members.
using System;
using System.Collections.Generic;
using System.IO;
using System.Reflection;

class Names {
    static void Main() {
        var builtins = new SortedSet<string>(StringComparer.Ordinal);
        var members = new SortedSet<string>(StringComparer.Ordinal);
        var modules = new SortedSet<string>(StringComparer.Ordinal);
        var lang = new[] { typeof(object), typeof(string), typeof(int), typeof(long), typeof(double),
            typeof(float), typeof(bool), typeof(char), typeof(byte), typeof(decimal), typeof(Array),
            typeof(Math), typeof(Console), typeof(Convert), typeof(Random), typeof(DateTime),
            typeof(TimeSpan), typeof(Environment), typeof(Exception), typeof(ArgumentException),
            typeof(ArgumentNullException), typeof(ArgumentOutOfRangeException),
            typeof(InvalidOperationException), typeof(NullReferenceException),
            typeof(IndexOutOfRangeException), typeof(NotImplementedException),
            typeof(NotSupportedException), typeof(FormatException), typeof(OverflowException),
            typeof(DivideByZeroException), typeof(InvalidCastException), typeof(Enum), typeof(Guid),
            typeof(Type), typeof(Delegate), typeof(Action), typeof(IDisposable), typeof(Nullable<int>),
            typeof(Tuple), typeof(Lazy<int>), typeof(GC), typeof(Activator), typeof(EventArgs),
            typeof(EventHandler), typeof(Func<int>), typeof(IComparable), typeof(Predicate<int>),
            typeof(Int32), typeof(Attribute), typeof(StringComparison), typeof(Version), typeof(Uri) };
        var usual = new[] { typeof(List<int>), typeof(Dictionary<int, int>), typeof(HashSet<int>),
            typeof(Queue<int>), typeof(Stack<int>), typeof(LinkedList<int>),
            typeof(SortedDictionary<int, int>), typeof(SortedList<int, int>),
            typeof(KeyValuePair<int, int>), typeof(IEnumerable<int>), typeof(IEnumerator<int>),
            typeof(IList<int>), typeof(ICollection<int>), typeof(IDictionary<int, int>),
            typeof(KeyNotFoundException), typeof(File), typeof(Directory), typeof(Path),
            typeof(StreamReader), typeof(StreamWriter), typeof(FileNotFoundException),
            typeof(IOException), typeof(TextReader), typeof(TextWriter), typeof(FileInfo),
            typeof(System.Text.StringBuilder), typeof(System.Text.Encoding),
            typeof(System.Text.RegularExpressions.Regex),
            typeof(System.Text.RegularExpressions.Match),
            typeof(System.Threading.Thread), typeof(System.Threading.Tasks.Task),
            typeof(System.Threading.Timer), typeof(System.Diagnostics.Stopwatch),
            typeof(System.Diagnostics.Debug), typeof(System.Globalization.CultureInfo) };
        foreach (var type in lang) Tell(type, builtins, members);
        foreach (var type in usual) Tell(type, modules, members);
        foreach (var name in builtins) Console.WriteLine("builtins " + name);
        foreach (var name in members) Console.WriteLine("members " + name);
        foreach (var name in modules) Console.WriteLine("modules " + name);
    }

    static void Tell(Type type, SortedSet<string> types, SortedSet<string> members) {
        types.Add(type.Name.Split('`')[0]);
        foreach (var member in type.GetMembers()) {
            var name = member.Name;
            if (name.Contains(".") || name.Contains("`")) continue;
            foreach (var mark in new[] { "get_", "set_", "add_", "remove_", "op_" })
                if (name.StartsWith(mark, StringComparison.Ordinal)) name = name.Substring(mark.Length);
            members.Add(name);
        }
    }
}
