using AnchorBend.Compiler.Lowering;
using AnchorBend.Compiler.Planning;

namespace AnchorBend.Delivery;

sealed partial class CWriter
{
    /// <summary>Prints the statements of one function.</summary>
    sealed class CStatements
    {
        readonly CWriter writer;
        readonly CFile file;
        readonly CBody body;
        readonly bool decides;
        readonly string states,
            slopes;
        readonly PlaceUse use;
        readonly Dictionary<(int, int), (string Name, bool IsBoolean)> locals = [];
        readonly Dictionary<(int, int), int> uses = [];
        readonly Dictionary<int, string> owners;
        readonly HashSet<int> declared = [];
        int routine,
            depth;
        string? owner;

        public CStatements(CWriter writer, CFile file, CBody body, bool decides, string states, string slopes)
        {
            (this.writer, this.file, this.body, this.decides) = (writer, file, body, decides);
            (this.states, this.slopes) = (states, slopes);
            use = writer.functions.Use(body, decides);
            foreach (var (r, statement) in body.Statements)
            foreach (var local in CFunctions.Locals(statement))
                uses[(r, local)] = uses.GetValueOrDefault((r, local)) + 1;
            owners = [];
            foreach (var block in writer.unit.Plan.Blocks)
            foreach (var variable in block is LoopBlock loop ? loop.Determines : block.Determines)
                owners.TryAdd(variable, block.Owner);
        }

        public void Print()
        {
            // What is written more than once, or on some ways only, is declared at the top.
            foreach (var place in use.Written.Order())
                if (!writer.kept.Contains(place) && IsDeclaredAtTop(place))
                {
                    var isBoolean = writer.places.IsBoolean(place);
                    file.Line(
                        $"{(isBoolean ? "bool" : writer.real)} {writer.places.NameOf(place)} = {(isBoolean ? "false" : writer.Literal(0))};"
                    );
                    declared.Add(place);
                }

            foreach (var (r, statement) in body.Statements)
            {
                routine = r;
                Print(statement);
            }

            file.Origin = null;
        }

        bool IsDeclaredAtTop(int place) =>
            use.Writes[place] > 1
            || !body.Statements.Any(s => s.Statement is StoreStatement { To.Space: Space.Memory } store && store.To.Index == place);

        void From(int place)
        {
            if (!owners.TryGetValue(place, out var now) || now == owner)
                return;
            owner = now;
            file.Origin = null;
            file.Blank();
            file.Origin = now;
            if (CodeUnit.PathWithin(now) is { Length: > 0 } path)
                file.Comment(path.Replace(".", " / ", StringComparison.Ordinal));
        }

        int VariableOf(PlaceCode place) =>
            place.Space switch
            {
                Space.States => writer.unit.Plan.States[place.Index],
                Space.Derivatives => writer.unit.Plan.Derivatives[place.Index],
                _ => place.Index,
            };

        void Print(Statement statement)
        {
            switch (statement)
            {
                case StoreStatement s:
                    if (depth == 0)
                        From(VariableOf(s.To));
                    Store(s);
                    return;
                case LocalStatement l:
                    Value(new LetCode(l.Local, l.Value), false);
                    return;
                case ResultStatement r:
                    file.Line($"r[{r.Index}] = {Value(r.Value, false)};");
                    return;
                case SolveStatement s:
                    From(writer.unit.Program.Loops[s.Loop].Torn[0]);
                    file.Line(
                        $"{writer.prefix}_solve_{s.Loop + 1}({writer.Passed}, t{(writer.HasStates ? $", {Pointer(states)}, {Pointer(slopes)}" : "")});"
                    );
                    return;
                case CopyStatement c:
                    for (var k = 0; k < c.Count; k++)
                        Store(new StoreStatement(new PlaceCode(Space.Memory, c.To + k), new PlaceCode(Space.Memory, c.From + k), -1));
                    return;
                case IfStatement i when writer.Deciding(writer.always)(i.Condition) is { } known:
                    foreach (var inner in known ? i.Then : i.Otherwise)
                        Print(inner);
                    return;
                case IfStatement i:
                    file.Open($"if ({Condition(i.Condition)}) {{");
                    depth++;
                    foreach (var inner in i.Then)
                        Print(inner);
                    if (i.Otherwise.Count > 0)
                    {
                        file.Close("} else {");
                        file.Reopen();
                        foreach (var inner in i.Otherwise)
                            Print(inner);
                    }

                    depth--;
                    file.Close();
                    return;
                default:
                    throw new InvalidOperationException($"unknown statement {statement.GetType().Name}");
            }
        }

        static string Pointer(string leads) =>
            leads switch
            {
                "x->" => "x",
                "dx->" => "dx",
                "k1." => "&k1",
                _ => "&s->x",
            };

        void Store(StoreStatement s)
        {
            var at = s.To.Index;
            var isMemory = s.To.Space == Space.Memory;
            var isBoolean = isMemory && writer.places.IsBoolean(at);
            if (isMemory && s.Local >= 0)
                locals[(routine, s.Local)] = (writer.Read(s.To, states, slopes), isBoolean);
            var isNew = isMemory && !writer.kept.Contains(at) && !declared.Contains(at);
            var target = isNew ? writer.places.NameOf(at) : writer.Read(s.To, states, slopes);
            if (!isMemory && s.Local >= 0)
                locals[(routine, s.Local)] = (target, false);
            var type = isBoolean ? "bool" : writer.real;
            if (!isBoolean && s.Value is ChooseCode choice && writer.Deciding(writer.always)(choice.Condition) is null)
            {
                if (isNew)
                    file.Line($"{type} {target};");
                Choose(target, choice, "");
                return;
            }

            var value = Value(s.Value, isBoolean);
            if (isNew)
                file.Line($"const {type} {target} = {value};");
            else if (target != value)
                file.Line($"{target} = {value};");
        }

        /// <summary>A choice reads better as conditions one below the other.</summary>
        void Choose(string target, ChooseCode choice, string before)
        {
            file.Open($"{before}if ({Condition(choice.Condition)}) {{");
            file.Line($"{target} = {Value(choice.Then, false)};");
            if (choice.Otherwise is ChooseCode other && writer.Deciding(writer.always)(other.Condition) is null && !Decides(other))
            {
                file.Close(null);
                Choose(target, other, "} else ");
                return;
            }

            file.Close("} else {");
            file.Reopen();
            file.Line($"{target} = {Value(choice.Otherwise, false)};");
            file.Close();
        }

        /// <summary>Whether something has to be written before its condition.</summary>
        bool Decides(ChooseCode choice)
        {
            Condition(choice.Condition, out var lines);
            return lines > 0;
        }

        CPrinter Printer() =>
            new(
                writer.unit,
                writer.places,
                p => writer.Read(p, states, slopes),
                l => locals.TryGetValue((routine, l), out var known) ? known : ($"v{routine}_{l}", false)
            )
            {
                Always = writer.always,
                Kept = h =>
                    !decides ? "s->" + writer.Field(h.Place)
                    : writer.relations.Contains(h.Place) ? Decide(h)
                    : null,
                Inlines = l => uses.GetValueOrDefault((routine, l)) == 0,
                Named = (l, isBoolean) => (locals[(routine, l)] = ($"v{routine}_{l}", isBoolean)).Name,
            };

        readonly List<string> decisions = [];

        /// <summary>What the slopes go by is decided before the value that it is in.</summary>
        string Decide(HeldTest held)
        {
            var field = "s->" + writer.Field(held.Place);
            var inner = Printer();
            decisions.Add($"{field} = {inner.Condition(held.Anew)};");
            writer.Take(inner);
            return field;
        }

        void Before(CPrinter printer)
        {
            foreach (var line in decisions)
                file.Line(line);
            decisions.Clear();
            foreach (var (local, value, isBoolean) in printer.Lets)
                file.Line($"const {(isBoolean ? "bool" : writer.real)} {locals[(routine, local)].Name} = {value};");
            writer.Take(printer);
        }

        string Value(Code code, bool isTruth)
        {
            var printer = Printer();
            var text = isTruth ? printer.Truth(code) : printer.Value(code);
            Before(printer);
            return text;
        }

        void Condition(Test test, out int lines)
        {
            var printer = Printer();
            printer.Condition(test);
            lines = decisions.Count + printer.Lets.Count;
            decisions.Clear();
        }

        string Condition(Test test)
        {
            var printer = Printer();
            var text = printer.Condition(test);
            Before(printer);
            return text;
        }
    }
}
