using AnchorBend.Modeling.Documents;
using AnchorBend.Workbench.Models;
using AnchorBend.Workbench.People;

namespace AnchorBend.Workbench.Tests;

/// <summary>Several people edit one model: each takes back their own, and nobody does away with another's unseen.</summary>
public sealed class SharedEditTests
{
    readonly Bench bench = new();
    readonly string id;
    ModelSession session;

    public SharedEditTests()
    {
        id = bench.Create(
            new DiagramDefinition
            {
                Name = "M",
                Parts =
                {
                    ["a"] = new PartNode { Type = "Gain", Name = "A" },
                    ["b"] = new PartNode { Type = "Gain", Name = "B" },
                },
            }.AsModel()
        );
        session = bench.Models.Session(id);
    }

    static PatchOperation[] Gain(string part, string k) => [new("add", $"/definitions/main/parts/{part}/parameters/k", k)];

    /// <summary>Somebody who may do all, and has signed in.</summary>
    sealed record Guest(string Name) : IVisitor
    {
        public string Account => Name;

        public bool IsAdministrator => true;

        public Access Of(string model) => Access.Administer;

        public bool Owns(string model) => true;

        public Access OfFolder(string folder) => Access.Administer;
    }

    static string In(string author)
    {
        Visitor.Current = new Guest(author);
        return author;
    }

    void Set(string author, string part, string k) => session.Edit(session.Revision, $"Set {part} to {k}", Gain(part, k), In(author));

    AcceptedEdit Undo(string author) => session.Undo(session.Revision, In(author));

    void Redo(string author) => session.Redo(session.Revision, In(author));

    string? K(string part) => session.Document.Main.Parts[part].Parameters.GetValueOrDefault("k");

    [Fact]
    public void Each_takes_back_and_makes_again_their_own()
    {
        Set("ines", "a", "2");
        Set("mats", "b", "3");
        Undo("ines");
        Assert.Equal((null, "3"), (K("a"), K("b")));
        Set("mats", "b", "4");
        Redo("ines");
        Undo("mats");
        Undo("mats");
        Assert.Equal(("2", null), (K("a"), K("b")));
    }

    [Fact]
    public void What_somebody_else_has_changed_since_is_not_taken_back()
    {
        Set("ines", "a", "2");
        Set("mats", "a", "3");
        var told = Assert.Throws<DocumentException>(() => Undo("ines"));
        Assert.Contains("mats has changed the same since (\"Set a to 3\")", told.Message, StringComparison.Ordinal);
        Assert.Equal("3", K("a"));
        // Where they have taken theirs back it is as if it had never been.
        Undo("mats");
        Undo("ines");
        Assert.Null(K("a"));
        Redo("ines");
        Assert.Equal("2", K("a"));
    }

    [Fact]
    public void Who_has_done_nothing_has_nothing_to_take_back()
    {
        Assert.Empty(Undo("mats").Operations);
        Set("ines", "a", "2");
        Assert.Contains("nothing of yours", Assert.Throws<DocumentException>(() => Undo("mats")).Message, StringComparison.Ordinal);
        Assert.Equal("2", K("a"));
    }

    [Fact]
    public void One_alone_takes_back_everything_whatever_name_it_was_made_under()
    {
        Visitor.Current = null;
        session.Edit(0, "Set", Gain("a", "2"), "ines");
        session.Edit(1, "Set", Gain("a", "3"), "mats");
        session.Undo(session.Revision, "mats");
        session.Undo(session.Revision, "mats");
        Assert.Null(K("a"));
        session.Edit(session.Revision, "Set", Gain("b", "1"), "ines");
        Assert.Empty(session.Redo(session.Revision, "mats").Operations);
    }

    [Fact]
    public void Whose_edits_they_are_is_still_known_after_a_new_start()
    {
        Set("ines", "a", "2");
        Set("mats", "b", "3");
        Undo("ines");
        session = new ModelSession(
            id,
            bench.Store,
            () => Modeling.Catalog.PartCatalog.Standard,
            new Compute.ComputeGate(),
            bench.Store.Load(id)!
        );
        Assert.Contains("nothing of yours", Assert.Throws<DocumentException>(() => Undo("ines")).Message, StringComparison.Ordinal);
        Redo("ines");
        Undo("mats");
        Assert.Equal(("2", null), (K("a"), K("b")));
    }

    [Theory]
    [InlineData("a", "ines", "mats", true)]
    [InlineData("b", "ines", "mats", false)]
    [InlineData("a", "ines", "ines", false)]
    public void An_edit_that_comes_late_is_told_whose_edit_of_the_same_it_would_do_away_with(
        string part,
        string first,
        string late,
        bool clash
    )
    {
        Set(first, "a", "2");
        var conflict = Assert.Throws<ConflictException>(() => session.Edit(0, "Set", Gain(part, "5"), late));
        Assert.Equal(clash ? new EditClash("ines", "Set a to 2") : null, conflict.Clash);
        Assert.Equal(1, conflict.Present);
    }

    /// <summary>Whatever several people do and take back in whatever order: the document is what the edits that stand make of it.</summary>
    [Theory]
    [InlineData(1)]
    [InlineData(2)]
    [InlineData(3)]
    public void Any_order_of_edits_and_steps_back_leaves_what_stands(int seed)
    {
        var random = new Random(seed);
        string[] people = ["ines", "mats", "orla"];
        // Each has a part of their own, so that nothing is at odds; what stands of each is a stack.
        var stands = people.ToDictionary(p => p, _ => new Stack<string>());
        var back = people.ToDictionary(p => p, _ => new Stack<string>());
        foreach (var p in people)
            session.Edit(session.Revision, "Place", [new("add", $"/definitions/main/parts/{p}", Node(p))], "nobody");
        for (var turn = 0; turn < 300; turn++)
        {
            var who = people[random.Next(3)];
            switch (random.Next(4))
            {
                case 0 when stands[who].Count > 0:
                    Undo(who);
                    back[who].Push(stands[who].Pop());
                    break;
                case 1 when back[who].Count > 0:
                    Redo(who);
                    stands[who].Push(back[who].Pop());
                    break;
                default:
                    Set(who, who, $"{turn}");
                    stands[who].Push($"{turn}");
                    back[who].Clear();
                    break;
            }

            foreach (var p in people)
                Assert.Equal(stands[p].Count > 0 ? stands[p].Peek() : null, K(p));
        }
    }

    static System.Text.Json.Nodes.JsonNode Node(string name) =>
        new System.Text.Json.Nodes.JsonObject
        {
            ["type"] = "Gain",
            ["name"] = name,
            ["x"] = 0,
            ["y"] = 0,
            ["parameters"] = new System.Text.Json.Nodes.JsonObject(),
        };
}
