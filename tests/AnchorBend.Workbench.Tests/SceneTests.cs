using AnchorBend.Interchange.Meshes;
using AnchorBend.Modeling.Documents;
using AnchorBend.Workbench.Models;
using AnchorBend.Workbench.Scenes;
using static AnchorBend.Tests.Diagrams;

namespace AnchorBend.Workbench.Tests;

/// <summary>What of a model can be seen moving, and what it looks like.</summary>
public class SceneTests
{
    readonly Bench bench = new();

    static readonly ShapeNode Box = new()
    {
        Kind = ShapeKind.Box,
        Size = new(2, 0.2, 0.1),
        Order = 1,
    };

    /// <summary>A pendulum: a frame fixed to the ground, a pin, a bar with a third point that is not switched on.</summary>
    static ModelDocument Pendulum(Dictionary<string, ShapeNode>? shapes = null) =>
        new DiagramDefinition
        {
            Name = "Pendulum",
            Parts = new()
            {
                ["g"] = Part("PlaneGround", "Wall"),
                ["j"] = Part("PlanePin", "Pivot"),
                ["b"] = Part("PlaneBody", "Bar", ("xb", "2 m"), ("useC", "false"), ("thick", "20 cm")) with { Shapes = shapes },
            },
            Wires = new() { ["w1"] = Wire("g.b", "j.a"), ["w2"] = Wire("j.b", "b.a") },
        }.AsModel();

    SceneView Scene(ModelDocument document) => bench.Models.Scene(bench.Create(document), CancellationToken.None);

    [Fact]
    public void Bodies_are_told_with_signals_and_with_the_numbers_of_the_model()
    {
        var scene = Scene(Pendulum());
        Assert.Equal(["b body", "g ground", "j pin"], scene.Bodies.Select(b => $"{b.Part} {b.Kind}"));
        var bar = scene.Bodies[0];
        Assert.Equal(("Bar", "b.a.x", "b.a.phi"), (bar.Name, bar.X, bar.Angle));
        // The second point is there, the third is not; so are its forces.
        Assert.Equal([new ScenePoint(0, 0), new ScenePoint(2, 0)], bar.Points);
        Assert.Equal(["b.a.fx b.a.fy b.a.t", "b.b.fx b.b.fy b.b.t"], bar.Forces.Select(f => string.Join(' ', [.. f.Force, .. f.Torque])));
        Assert.Equal(0.2, bar.Thick, 1e-12);
        Assert.Empty(bar.Shapes);
    }

    [Fact]
    public void Forces_and_torques_in_space_act_where_the_body_is()
    {
        var alone = new DiagramDefinition
        {
            Name = "Top",
            Parts = new() { ["t"] = Part("SpaceBody", "Top") },
        };
        var top = Assert.Single(Scene(alone.AsModel()).Bodies);
        Assert.Equal(
            [new[] { "t.f[1]", "t.f[2]", "t.f[3]" }, ["t.t[1]", "t.t[2]", "t.t[3]"]],
            top.Forces.Select(f => f.Force.Concat(f.Torque))
        );
        Assert.All(top.Forces, f => Assert.Equal((top.X, top.Y, top.Z), (f.X, f.Y, f.Z)));
    }

    [Fact]
    public void A_model_that_cannot_run_has_nothing_to_show()
    {
        var broken = Pendulum();
        broken.Main.Parts["b"].Parameters["xb"] = "2 kg";
        Assert.Empty(Scene(broken).Bodies);
    }

    [Fact]
    public void Shapes_stand_in_their_order_and_change_no_result()
    {
        var shapes = new Dictionary<string, ShapeNode> { ["z"] = Box, ["a"] = Box with { Kind = ShapeKind.Cone, Order = 2 } };
        Assert.Equal([ShapeKind.Box, ShapeKind.Cone], Scene(Pendulum(shapes)).Bodies[0].Shapes.Select(s => s.Kind));
        var id = bench.Create(Pendulum(shapes));
        var edit = bench.Edit(id, new PatchOperation("replace", "/definitions/main/parts/b/shapes/z/ink", "steel"));
        Assert.Null(edit.Run);
        Assert.Equal(ShapeInk.Steel, bench.Models.Session(id).Document.Main.Parts["b"].Shapes!["z"].Ink);
    }

    [Fact]
    public void A_shape_that_is_nowhere_is_refused()
    {
        var nowhere = new Dictionary<string, ShapeNode> { ["z"] = Box with { At = new(1e8, 0, 0) } };
        Assert.Throws<DocumentException>(() => bench.Create(Pendulum(nowhere)));
    }

    [Fact]
    public void A_mesh_goes_with_the_file_of_its_model_and_comes_back()
    {
        var stl = "solid\nfacet\nvertex 0 0 0\nvertex 5000 0 0\nvertex 0 100 0\nendfacet\nendsolid\n"u8.ToArray();
        var taken = bench.Meshes.Take("plate.stl", stl, CancellationToken.None);
        // Nobody builds a plate of 5 km: the file is in millimetres.
        Assert.Equal((1, 1e-3, 5000), (taken.Triangles, taken.Scale, taken.Extent.X));
        var shapes = new Dictionary<string, ShapeNode> { ["m"] = Box with { Kind = ShapeKind.Mesh, Mesh = taken.Hash } };
        var file = bench.Models.Export(bench.Create(Pendulum(shapes)));

        var other = new Bench();
        var id = other.Models.Create(new NewModel(null, null, file, null, null), CancellationToken.None);
        Assert.Equal(bench.Meshes.Bytes(taken.Hash), other.Meshes.Bytes(taken.Hash));
        Assert.Null(other.Models.Session(id).Document.Meshes);
        Assert.Throws<NotFoundException>(() => other.Meshes.Bytes("0123"));
    }

    [Fact]
    public void A_file_whose_mesh_is_not_what_its_name_says_is_refused()
    {
        var mesh = new TriangleMesh([0, 0, 0, 1, 0, 0, 0, 1, 0], [0, 1, 2]);
        var file = Pendulum() with { Meshes = new() { ["0123"] = Convert.ToBase64String(TriangleMesh.Packed(mesh.ToBytes())) } };
        var made = new NewModel(null, null, file.ToJson(), null, null);
        Assert.Contains(
            "0123",
            Assert.Throws<DocumentException>(() => bench.Models.Create(made, default)).Message,
            StringComparison.Ordinal
        );
        var refused = Assert.Throws<DocumentException>(() => bench.Meshes.Take("plate.stl", [1, 2, 3], CancellationToken.None));
        Assert.Contains("plate.stl cannot be shown", refused.Message, StringComparison.Ordinal);
    }
}
