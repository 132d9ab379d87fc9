using System.Text;
using AnchorBend.Modeling.Documents;

namespace AnchorBend.Modeling.Tests;

/// <summary>Pictures for faces: only what is drawn gets in.</summary>
public class FacePictureTests
{
    const string Head = "<svg viewBox=\"0 0 10 10\" xmlns=\"http://www.w3.org/2000/svg\"";

    static string Taken(string svg)
    {
        var url = FacePicture.Imported(Encoding.UTF8.GetBytes(svg));
        Assert.StartsWith("data:image/svg+xml;base64,", url, StringComparison.Ordinal);
        return Encoding.UTF8.GetString(Convert.FromBase64String(url[(url.IndexOf(',') + 1)..]));
    }

    static ModelDocument WithPicture(string? picture, List<StrokeNode>? sketch = null) =>
        new DiagramDefinition
        {
            Name = "M",
            Face = new FaceNode { Picture = picture, Sketch = sketch },
        }.AsModel();

    [Fact]
    public void Shapes_texts_and_paint_are_kept()
    {
        var svg = $"{Head}><g fill=\"none\" stroke=\"#123\"><path d=\"M0 0L5 5\"/><text x=\"1\" y=\"2\">net &amp; water</text></g></svg>";
        Assert.Equal(svg.Replace("/>", " />", StringComparison.Ordinal), Taken(svg));
    }

    [Theory]
    [InlineData("<script>alert(1)</script>")]
    [InlineData("<foreignObject><body xmlns=\"http://www.w3.org/1999/xhtml\"/></foreignObject>")]
    [InlineData("<image href=\"http://elsewhere/x.png\"/>")]
    [InlineData("<use href=\"http://elsewhere/x.svg#a\"/>")]
    [InlineData("<style>@import url(http://elsewhere/x.css);</style>")]
    [InlineData("<animate attributeName=\"x\"/>")]
    [InlineData("<a href=\"javascript:alert(1)\"><path d=\"M0 0\"/></a>")]
    [InlineData("<x:script xmlns:x=\"http://www.w3.org/2000/svg\">alert(1)</x:script>")]
    [InlineData("<!-- <script/> --><?run it?>")]
    public void What_runs_or_is_fetched_is_left_out(string inner) =>
        Assert.Equal($"{Head} />", Taken($"{Head}>{inner}</svg>").Replace("></svg>", " />", StringComparison.Ordinal));

    [Theory]
    [InlineData("onload=\"alert(1)\"")]
    [InlineData("onclick=\"alert(1)\"")]
    [InlineData("style=\"background:url(http://elsewhere)\"")]
    [InlineData("fill=\"url(http://elsewhere#a)\"")]
    [InlineData("fill=\"URL( http://elsewhere#a )\"")]
    [InlineData("xlink:href=\"#a\" xmlns:xlink=\"http://www.w3.org/1999/xlink\"")]
    public void Attributes_that_run_or_lead_elsewhere_are_left_out(string attribute) =>
        Assert.DoesNotContain(attribute.Split('=')[0], Taken($"{Head}><rect {attribute} width=\"2\"/></svg>"), StringComparison.Ordinal);

    [Fact]
    public void Paint_within_the_picture_is_kept() =>
        Assert.Contains("url(#g)", Taken($"{Head}><rect fill=\"url(#g)\"/></svg>"), StringComparison.Ordinal);

    [Theory]
    [InlineData("")]
    [InlineData("<html/>")]
    [InlineData("<svg")]
    [InlineData("<!DOCTYPE svg [<!ENTITY a \"aaaa\">]><svg xmlns=\"http://www.w3.org/2000/svg\"><text>&a;</text></svg>")]
    public void What_is_no_picture_is_refused(string file) =>
        Assert.Throws<DocumentException>(() => FacePicture.Imported(Encoding.UTF8.GetBytes(file)));

    [Fact]
    public void Nesting_without_end_is_cut_and_a_large_file_refused()
    {
        var deep = Head + ">" + string.Concat(Enumerable.Repeat("<g>", 5000)) + string.Concat(Enumerable.Repeat("</g>", 5000)) + "</svg>";
        Assert.True(Taken(deep).Length < 1000);
        Assert.Throws<DocumentException>(() =>
            FacePicture.Imported([0x89, 0x50, 0x4E, 0x47, 0x0D, 0x0A, 0x1A, 0x0A, .. new byte[300_000]])
        );
    }

    [Fact]
    public void A_document_holds_only_pictures_that_were_taken_in()
    {
        var good = FacePicture.Imported(Encoding.UTF8.GetBytes($"{Head}><path d=\"M0 0\"/></svg>"));
        Assert.Equal(good, ModelDocument.FromJson(WithPicture(good).ToJson()).Main.Face!.Picture);
        var png = FacePicture.Imported([0x89, 0x50, 0x4E, 0x47, 0x0D, 0x0A, 0x1A, 0x0A, 1, 2, 3]);
        Assert.Equal(png, ModelDocument.FromJson(WithPicture(png).ToJson()).Main.Face!.Picture);
        var script = Convert.ToBase64String(Encoding.UTF8.GetBytes($"{Head}><script>alert(1)</script></svg>"));
        foreach (
            var bad in (string[])
                [
                    "http://elsewhere/x.png",
                    "data:image/png;base64,AAAA",
                    "data:image/svg+xml;base64," + script,
                    "data:text/html;base64,AAAA",
                    "data:image/svg+xml;base64,%%%",
                ]
        )
            Assert.Throws<DocumentException>(() => ModelDocument.FromJson(WithPicture(bad).ToJson()));
    }

    [Fact]
    public void Strokes_are_complete_and_not_too_many()
    {
        static StrokeNode Stroke(StrokeKind kind, int points) =>
            new() { Kind = kind, Points = [.. Enumerable.Range(0, points).Select(i => new Point(i, i))] };
        Assert.NotNull(ModelDocument.FromJson(WithPicture(null, [Stroke(StrokeKind.Arc, 3), Stroke(StrokeKind.Text, 1)]).ToJson()));
        foreach (var bad in (StrokeNode[])[Stroke(StrokeKind.Arc, 2), Stroke(StrokeKind.Line, 1), Stroke(StrokeKind.Line, 101)])
            Assert.Throws<DocumentException>(() => ModelDocument.FromJson(WithPicture(null, [bad]).ToJson()));
        var many = Enumerable.Repeat(Stroke(StrokeKind.Line, 2), FaceLimits.MostStrokes + 1).ToList();
        Assert.Throws<DocumentException>(() => ModelDocument.FromJson(WithPicture(null, many).ToJson()));
    }
}
