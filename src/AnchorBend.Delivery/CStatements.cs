using AnchorBend.Compiler.Lowering;
using AnchorBend.Compiler.Planning;
using AnchorBend.Language;

namespace AnchorBend.Delivery;

sealed partial class CWriter
{
    /// <summary>How a function comes to the truth of relations.</summary>
    enum Decision
    {
        /// <summary>As it was decided at the beginning of the step.</summary>
        Held,

        /// <summary>It decides them.</summary>
        Anew,

        /// <summary>It decides them where it is told to.</summary>
        Asked,
    }

    /// <summary>Prints the statements of one function.</summary>
    sealed class CStatements
    {
        readonly CWriter writer;
        readonly CFile file;
        readonly CBody body;
        readonly Decision decides;
        readonly string states,
            slopes;
        readonly PlaceUse use;
        readonly Dictionary<(int, int), (string Name, bool IsBoolean)> locals = [];
        readonly Dictionary<(int, int), int> uses = [];
        readonly Dictionary<int, string> owners;
        readonly HashSet<int> declared = [];

        /// <summary>Places that are written on every way.</summary>
        readonly HashSet<int> always;
        int routine,
            depth;
        string? owner;

        public CStatements(CWriter writer, CFile file, CBody body, Decision decides, string states, string slopes)
        {
            (this.writer, this.file, this.body, this.decides) = (writer, file, body, decides);
            (this.states, this.slopes) = (states, slopes);
            use = writer.functions.Use(body, decides != Decision.Held);
            foreach (var (r, statement) in body.Statements)
            foreach (var local in CFunctions.Locals(statement))
                uses[(r, local)] = uses.GetValueOrDefault((r, local)) + 1;
            always =
            [
                .. body
                    .Statements.Select(b => b.Statement)
                    .OfType<StoreStatement>()
                    .Where(w => w.To.Space == Space.Memory)
                    .Select(w => w.To.Index),
            ];
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

            for (var i = 0; i < body.Statements.Count; )
            {
                WorkBudget.Current.Check();
                routine = body.Statements[i].Routine;
                var together = Together(i);
                if (together.Count > 1)
                    Group(together);
                else
                    Print(body.Statements[i].Statement);
                i += together.Count;
            }

            file.Origin = null;
        }

        /// <summary>Choices by one and the same condition that stand one behind the other, from a statement on.</summary>
        List<(StoreStatement Store, ChooseCode Choice)> Together(int first)
        {
            var group = new List<(StoreStatement, ChooseCode)>();
            HashSet<PlaceCode> asked = [];
            for (var i = first; i < body.Statements.Count && body.Statements[i].Routine == routine; i++)
            {
                if (
                    body.Statements[i].Statement is not StoreStatement { Value: ChooseCode choice } store
                    || writer.Deciding(writer.always)(choice.Condition) is not null
                    || group.Count > 0 && !choice.Condition.Equals(group[0].Item2.Condition)
                )
                    break;
                if (group.Count == 0)
                    asked = CFunctions.Places(choice.Condition);
                group.Add((store, choice));
                // What the condition asks for is another thing from here on.
                if (asked.Contains(store.To))
                    break;
            }

            return group.Count == 0 ? [default] : group;
        }

        void Group(List<(StoreStatement Store, ChooseCode Choice)> group)
        {
            From(VariableOf(group[0].Store.To));
            foreach (var (store, _) in group)
                if (IsNew(store))
                    file.Line($"{TypeOf(store)} {Target(store)};");
            void Branch(Func<ChooseCode, Code> of)
            {
                foreach (var (store, choice) in group)
                {
                    if (store.Local >= 0)
                        locals[(routine, store.Local)] = (Target(store), IsBoolean(store));
                    var value = Value(of(choice), IsBoolean(store));
                    if (value != Target(store))
                        file.Line($"{Target(store)} = {value};");
                }
            }

            file.Open($"if ({Condition(group[0].Choice.Condition)}) {{");
            Branch(c => c.Then);
            file.Close("} else {");
            file.Reopen();
            Branch(c => c.Otherwise);
            file.Close();
        }

        bool IsNew(StoreStatement s) => s.To.Space == Space.Memory && !writer.kept.Contains(s.To.Index) && !declared.Contains(s.To.Index);

        bool IsBoolean(StoreStatement s) => s.To.Space == Space.Memory && writer.places.IsBoolean(s.To.Index);

        string TypeOf(StoreStatement s) => IsBoolean(s) ? "bool" : writer.real;

        string Target(StoreStatement s) => IsNew(s) ? writer.places.NameOf(s.To.Index) : writer.Read(s.To, states, slopes);

        bool IsDeclaredAtTop(int place) => use.Writes[place] > 1 || !always.Contains(place);

        void From(int place)
        {
            if (!owners.TryGetValue(place, out var now) || now == owner)
                return;
            owner = now;
            file.Origin = null;
            if (!file.IsEmpty)
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
                    var at = writer.HasStates ? $", {Pointer(states)}, {Pointer(slopes)}" : "";
                    var how = writer.loopsDecide ? $", {(decides == Decision.Anew ? "true" : "false")}" : "";
                    file.Line($"{writer.prefix}_solve_{s.Loop + 1}({writer.Passed}, t{at}{how});");
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
            var (isNew, isBoolean, target) = (IsNew(s), IsBoolean(s), Target(s));
            if (s.Local >= 0)
                locals[(routine, s.Local)] = (target, isBoolean);
            if (!isBoolean && s.Value is ChooseCode choice && writer.Deciding(writer.always)(choice.Condition) is null)
            {
                if (isNew)
                    file.Line($"{TypeOf(s)} {target};");
                Choose(target, choice, "");
                return;
            }

            var value = Value(s.Value, isBoolean);
            if (isNew)
                file.Line($"const {TypeOf(s)} {target} = {value};");
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
                Derive = writer.Derive,
                Always = writer.always,
                IsOnce = writer.once,
                Kept = h =>
                    decides == Decision.Held ? "s->" + writer.Field(h.Place)
                    : writer.relations.Contains(h.Place) ? Decide(h)
                    : null,
                Since = (held, now) =>
                {
                    if (!writer.kept.Contains(held))
                        return now;
                    if (decides != Decision.Held)
                        decisions.Add($"s->{writer.Field(held)} = {now};");
                    return "s->" + writer.Field(held);
                },
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
            if (decides == Decision.Asked && decisions.Count > 0)
                file.Open("if (decides) {");
            foreach (var line in decisions)
                file.Line(line);
            if (decides == Decision.Asked && decisions.Count > 0)
                file.Close();
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
