using System.Text;
using System.Xml;
using System.Xml.Linq;

namespace AnchorBend.Modeling.Documents;

/// <summary>
/// Pictures for faces, as data URLs. Of a vector picture (Scalable Vector Graphics 2) only shapes, texts and their paint are kept:
/// nothing that
/// runs, is fetched or leads elsewhere.
/// </summary>
public static class FacePicture
{
    const string Png = "data:image/png;base64,",
        Svg = "data:image/svg+xml;base64,";

    static readonly byte[] PngSignature = [0x89, 0x50, 0x4E, 0x47, 0x0D, 0x0A, 0x1A, 0x0A];

    static readonly XNamespace Graphics = "http://www.w3.org/2000/svg";

    static readonly HashSet<string> Elements =
    [
        "svg",
        "g",
        "defs",
        "path",
        "rect",
        "circle",
        "ellipse",
        "line",
        "polyline",
        "polygon",
        "text",
        "tspan",
        "title",
        "desc",
        "linearGradient",
        "radialGradient",
        "stop",
        "clipPath",
    ];

    static readonly HashSet<string> Attributes =
    [
        "id",
        "viewBox",
        "width",
        "height",
        "x",
        "y",
        "x1",
        "y1",
        "x2",
        "y2",
        "cx",
        "cy",
        "r",
        "rx",
        "ry",
        "fx",
        "fy",
        "d",
        "points",
        "dx",
        "dy",
        "transform",
        "preserveAspectRatio",
        "version",
        "fill",
        "fill-rule",
        "fill-opacity",
        "stroke",
        "stroke-width",
        "stroke-linecap",
        "stroke-linejoin",
        "stroke-dasharray",
        "stroke-dashoffset",
        "stroke-opacity",
        "stroke-miterlimit",
        "opacity",
        "color",
        "display",
        "visibility",
        "font-family",
        "font-size",
        "font-weight",
        "font-style",
        "text-anchor",
        "dominant-baseline",
        "letter-spacing",
        "offset",
        "stop-color",
        "stop-opacity",
        "gradientUnits",
        "gradientTransform",
        "spreadMethod",
        "clip-path",
        "clip-rule",
        "clipPathUnits",
    ];

    /// <summary>The picture as a data URL, without what a picture has no need of.</summary>
    /// <exception cref="DocumentException">It is neither of the two kinds, too large, or cannot be read.</exception>
    public static string Imported(byte[] file)
    {
        var url = IsPng(file) ? Png + Convert.ToBase64String(file) : Svg + Convert.ToBase64String(Encoding.UTF8.GetBytes(Cleaned(file)));
        if (url.Length > FaceLimits.LongestPicture)
            throw new DocumentException(
                $"The picture has {url.Length / 1000} kB; a face takes {FaceLimits.LongestPicture / 1000} kB. Make it smaller."
            );
        return url;
    }

    /// <exception cref="DocumentException">It is not as <see cref="Imported"/> gives it.</exception>
    internal static void Check(string url)
    {
        DocumentLimits.Within(url, FaceLimits.LongestPicture, "The picture of a face");
        if (Bytes(url, Png) is { } png && IsPng(png))
            return;
        if (Bytes(url, Svg) is { } svg && svg.AsSpan().SequenceEqual(Encoding.UTF8.GetBytes(Cleaned(svg))))
            return;
        throw new DocumentException("The picture of a face is no PNG, and no SVG that was taken in by this program.");
    }

    static bool IsPng(byte[] file) => file.AsSpan().StartsWith(PngSignature);

    static byte[]? Bytes(string url, string kind)
    {
        if (!url.StartsWith(kind, StringComparison.Ordinal))
            return null;
        var bytes = new byte[url.Length];
        return Convert.TryFromBase64Chars(url.AsSpan(kind.Length), bytes, out var count) ? bytes[..count] : null;
    }

    static string Cleaned(byte[] file)
    {
        var settings = new XmlReaderSettings
        {
            DtdProcessing = DtdProcessing.Ignore,
            XmlResolver = null,
            MaxCharactersInDocument = FaceLimits.LongestPicture,
        };
        try
        {
            using var reader = XmlReader.Create(new MemoryStream(file), settings);
            var depth = 0;
            var root = Read(reader, ref depth);
            if (root?.Name != Graphics + "svg")
                throw new DocumentException("The file is neither a PNG nor an SVG picture.");
            return root.ToString(SaveOptions.DisableFormatting);
        }
        catch (XmlException e)
        {
            throw new DocumentException($"The file is neither a PNG nor a readable SVG picture: {e.Message}");
        }
    }

    const int DeepestElement = 40;

    /// <summary>The next element with what is kept of it; null where the element itself is not.</summary>
    static XElement? Read(XmlReader reader, ref int depth)
    {
        reader.MoveToContent();
        var isKept = reader.NamespaceURI == Graphics.NamespaceName && Elements.Contains(reader.LocalName) && depth < DeepestElement;
        if (!isKept)
        {
            reader.Skip();
            return null;
        }

        var element = new XElement(Graphics + reader.LocalName);
        while (reader.MoveToNextAttribute())
            if (reader.NamespaceURI.Length == 0 && Attributes.Contains(reader.LocalName) && IsHarmless(reader.Value))
                element.SetAttributeValue(reader.LocalName, reader.Value);
        reader.MoveToElement();
        var isEmpty = reader.IsEmptyElement;
        reader.Read();
        if (isEmpty)
            return element;
        depth++;
        while (reader.NodeType is not (XmlNodeType.EndElement or XmlNodeType.None))
        {
            if (reader.NodeType == XmlNodeType.Element)
                element.Add(Read(reader, ref depth));
            else
            {
                if (reader.NodeType is XmlNodeType.Text or XmlNodeType.CDATA)
                    element.Add(new XText(reader.Value));
                reader.Read();
            }
        }

        depth--;
        reader.Read();
        return element;
    }

    /// <summary>Whether an attribute leads nowhere but into the picture itself.</summary>
    static bool IsHarmless(string value)
    {
        var compact = string.Concat(value.Where(c => !char.IsWhiteSpace(c)));
        return !compact.Replace("url(#", "", StringComparison.OrdinalIgnoreCase).Contains("url(", StringComparison.OrdinalIgnoreCase)
            && !compact.Contains("script:", StringComparison.OrdinalIgnoreCase);
    }
}
