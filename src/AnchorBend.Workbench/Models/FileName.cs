namespace AnchorBend.Workbench.Models;

/// <summary>Names of things as names of files.</summary>
public static class FileName
{
    /// <summary>Without its end: letters, digits, blanks and hyphens stay.</summary>
    public static string Of(string name) => string.Concat(name.Select(c => char.IsLetterOrDigit(c) || c is ' ' or '-' ? c : '_')).Trim();
}
