using OpenQA.Selenium;

namespace AnchorBend.Browser.Tests;

/// <summary>A machine with arm and hydraulics: the quay crane moves in its scene, any pressure is found and plotted, its modes are
/// seen.</summary>
[Collection("application")]
public sealed class J18Tests(Application application) : IDisposable
{
    readonly BenchPage bench = new(application);

    public void Dispose() => bench.Dispose();

    string At => bench.Find(By.CssSelector(".observe-scene canvas")).GetAttribute("aria-label")!;

    int Strips => bench.All("section.observe-tile[aria-label='Angles and pressures'] canvas").Count;

    [Fact]
    public void J18_A_machine_with_arm_and_hydraulics()
    {
        bench.OpenExample("Quay crane");
        bench.Click(By.XPath("//nav//button[contains(., 'Observe')]"));
        bench.Until(() => bench.All(".observe-scene canvas").Count == 1, "the scene", 60);
        bench.Until(() => At.Contains("26", StringComparison.Ordinal), "its end");

        // Forces as arrows, names that lead to parts.
        bench.Press("Forces");
        bench.Until(() => bench.Button("Forces").GetAttribute("aria-pressed") == "true", "the forces");

        // Replayed slowly.
        bench.Choose("Speed of the replay", "1/4");
        bench.Press("Replay");
        bench.Until(() => !At.Contains("26", StringComparison.Ordinal), "an instant within the run");
        var seen = At;
        bench.Until(() => At != seen, "a later instant");
        bench.Press("Stop");
        bench.Click(By.XPath("//*[@aria-label='Camera']//label[normalize-space(.)='Orbit']"));
        bench.Click(By.XPath("//*[@aria-label='Camera']//label[normalize-space(.)='Follow']"));

        // A pressure that nobody chose before.
        var strips = Strips;
        var field = bench.Field("Search signals");
        field.Click();
        field.SendKeys("pressure line");
        bench.Until(
            () => bench.All(".observe-found-signal").Any(b => b.Text.Contains("bar", StringComparison.Ordinal)),
            "the pressure of the line"
        );
        bench.Keys(Keys.Enter);
        bench.Until(() => Strips == strips + 1, "its strip");
        bench.WaitSaved();

        bench.Click(By.XPath("//*[@aria-label='Camera']//label[normalize-space(.)='Fixed']"));
        bench.Press("Names");
        bench.Click(By.XPath("//*[contains(@class,'observe-scene')]//button[normalize-space(.)='Jib']"));
        bench.Until(
            () => bench.Find(By.CssSelector("[aria-label='Inspector']")).Text.Contains("Jib", StringComparison.Ordinal),
            "the part"
        );

        // How it swings where the time bar stands; the grab on its rope is the least damped.
        bench.Click(By.XPath("//nav//button[contains(., 'Tune')]"));
        bench.Press("Modes");
        bench.Click(By.CssSelector("[aria-label='Operating point']"));
        bench.Click(By.XPath("//div[contains(@class,'ant-select-item-option-content')][starts-with(., 'at ') and contains(., ' s')]"));
        bench.Until(() => bench.All("[aria-label='Modes'] tbody tr").Count > 10, "the modes");
        bench.Until(
            () => bench.All("[aria-label='Modes'] tr.tune-chosen").Any(r => r.Text.Contains("Grab", StringComparison.Ordinal)),
            "the grab"
        );
        bench.Click(By.XPath("//*[contains(@class, 'ant-segmented-item') and normalize-space(.)='On the diagram']"));
        bench.Until(() => bench.All("[data-arrow]").Count > 0, "its shape on the diagram");
    }

    /// <summary>Shapes listed in the inspector.</summary>
    int Shapes => bench.All("section[aria-label='Shapes in the scene'] .inspector-shape").Count;

    [Fact]
    public void Bodies_get_shapes_while_the_scene_stands_beside_the_diagram()
    {
        bench.OpenExample("Quay crane");
        bench.Press("Scene");
        bench.Until(() => bench.All("section[aria-label='Scene'] canvas").Count == 1, "the scene beside the diagram", 60);
        bench.Select("Grab");
        bench.Until(() => Shapes == 2, "the shapes of the grab");
        var revision = bench.Revision;

        bench.Press("Add a shape");
        bench.Click(By.XPath("//*[contains(@class,'ant-dropdown-menu-title-content') and normalize-space(.)='Cone']"));
        bench.Until(() => Shapes == 3, "one more");
        bench.SetField("Diameter", "0.8");
        bench.Choose("What it stands for", "Wood");
        bench.WaitSaved();

        // A mesh from a file, and one that is none.
        var folder = Directory.CreateTempSubdirectory("anchor-bend-mesh-").FullName;
        var (plate, broken) = (Path.Combine(folder, "plate.stl"), Path.Combine(folder, "broken.stl"));
        File.WriteAllText(plate, "solid\nfacet\nvertex 0 0 0\nvertex 2 0 0\nvertex 0 1 0\nendfacet\nendsolid\n");
        File.WriteAllText(broken, "solid\nfacet\nvertex 0 0\n");
        var file = bench.Find(By.CssSelector("input[aria-label='File of a mesh']"));
        file.SendKeys(plate);
        bench.Until(() => Shapes == 4, "the mesh");
        bench.Until(
            () => bench.Find(By.TagName("body")).Text.Contains("plate.stl: 1 triangles", StringComparison.Ordinal),
            "what was read"
        );
        bench.WaitSaved();
        bench.Chord(Keys.Control, "z");
        bench.Until(() => Shapes == 3, "the mesh taken back");
        Assert.True(bench.Revision > revision);

        // Played by hand, the bodies are where the run is.
        string Picture() =>
            (string)bench.Driver.ExecuteScript("return document.querySelector('section[aria-label=Scene] canvas').toDataURL()")!;
        bench.Press("Play");
        var first = Picture();
        bench.Until(() => Picture() != first, "the bodies to move");
        bench.Press("Pause");

        bench.Press("Fill the stage");
        bench.Until(() => bench.All(".build-diagram").Count == 0, "the scene alone");
        bench.Press("Beside the diagram");
        bench.Until(() => bench.All(".build-diagram").Count == 1, "both");
        bench.NoConsoleErrors();
        Directory.Delete(folder, true);
    }
}
