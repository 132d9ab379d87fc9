using AnchorBend.Compiler.Preparation;
using AnchorBend.Modeling.Catalog;
using AnchorBend.Modeling.Documents;
using AnchorBend.Modeling.Tables;
using AnchorBend.Modeling.Written;
using AnchorBend.Simulation;
using static AnchorBend.Tests.Diagrams;

namespace AnchorBend.Workbench.Tests;

/// <summary>Short ways to write decision tables and schedules down, and to run them.</summary>
static class TableParts
{
    static Dictionary<string, NameNode> Names(NameNode[] names) =>
        names.Select((n, i) => (n, i)).ToDictionary(n => n.n.Name, n => n.n with { Order = n.i });

    /// <param name="columns">What is looked at; each is its own id.</param>
    /// <param name="rules">Cells and values with bars between them, as <c>&gt; 2 | any | 1</c>.</param>
    public static DecisionTable Decisions(string[] columns, string[] rules, params NameNode[] names)
    {
        var outputs = names.Where(n => n.Kind == NameKind.Output).Select(n => n.Name).ToArray();
        return new DecisionTable
        {
            Name = "Table under test",
            Names = Names(names),
            Conditions = columns.Select((c, i) => (c, i)).ToDictionary(c => $"c{c.i}", c => new ConditionNode { Text = c.c, Order = c.i }),
            Rules = rules
                .Select((rule, i) => (Cells: rule.Split('|', StringSplitOptions.TrimEntries), i))
                .ToDictionary(
                    r => $"r{r.i + 1}",
                    r => new RuleNode
                    {
                        Order = r.i,
                        When = columns.Select((_, i) => i).ToDictionary(i => $"c{i}", i => r.Cells[i]),
                        Then = outputs.Select((o, i) => (o, i)).ToDictionary(o => o.o, o => r.Cells[columns.Length + o.i]),
                    }
                ),
        };
    }

    public static PhaseNode Phase(
        string name,
        string? lasts = null,
        string? until = null,
        params (string Command, CommandNode Does)[] does
    ) =>
        new()
        {
            Name = name,
            Lasts = lasts,
            Until = until,
            Commands = does.ToDictionary(d => d.Command, d => d.Does),
        };

    public static CommandNode To(string value, CommandWay way = CommandWay.Step, string? over = null) =>
        new()
        {
            To = value,
            Way = way,
            Over = over,
        };

    public static ScheduleDefinition Schedule(PhaseNode[] phases, params NameNode[] names) =>
        new()
        {
            Name = "Schedule under test",
            Names = Names(names),
            Phases = phases.Select((p, i) => (p, i)).ToDictionary(p => $"f{p.i + 1}", p => p.p with { Order = p.i }),
        };

    /// <summary>A model in which inputs follow expressions of time.</summary>
    public static ModelDocument Fed(WrittenDefinition definition, params (string Name, string Type, string Value)[] inputs)
    {
        var text =
            "block Inputs\n"
            + string.Concat(inputs.Select(i => $"output {i.Type} {i.Name};\n"))
            + "equation\n"
            + string.Concat(inputs.Select(i => $"{i.Name} = {i.Value};\n"))
            + "end Inputs;\n";
        var parts = new Dictionary<string, PartNode> { ["c"] = Part("#c", "Form") };
        if (inputs.Length > 0)
            parts["s"] = Part("Inputs", "Source");
        return new DiagramDefinition
        {
            Name = "Test",
            Parts = parts,
            Wires = inputs.ToDictionary(i => $"w{i.Name}", i => Wire($"s.{i.Name}", $"c.{i.Name}")),
        }
            .AsModel()
            .With("c", definition)
            .With("inputs", new TextDefinition { Name = "Inputs", Text = text });
    }

    /// <summary>Signals of a definition that was run.</summary>
    public sealed class Ran
    {
        readonly RunResult result;
        readonly PreparedModel prepared;

        public Ran(ModelDocument document, double end)
        {
            prepared = DocumentPreparation.Prepare(DocumentLimits.Checked(document), PartCatalog.Of(document));
            Assert.True(prepared.CanRun, string.Join("\n", prepared.Findings.Select(f => $"{f.Part} {f.Item}: {f.Message}")));
            using var session = new RunSession(
                prepared,
                new ParameterSet(prepared.Model),
                new RunOptions { End = end, OutputInterval = end / 200 }
            );
            session.Advance(new PauseAt(), default);
            result = session.Result();
            Assert.Null(result.Failure);
        }

        public double At(double time, string name)
        {
            var values = Simulation.Recording.RecordedSignal.Values(
                prepared,
                new ParameterSet(prepared.Model).Values,
                result.Trace,
                prepared.Find($"Form.{name}")!
            );
            return new Verification.Curve([.. result.Trace.Times], values).At(time)!.Value;
        }
    }
}
