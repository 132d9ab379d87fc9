namespace AnchorBend.Library;

/// <summary>Names the assembly whose embedded <c>.mo</c> resources are the library parts; the parts themselves are data.</summary>
public static class LibraryMarker;
