using System.Runtime.CompilerServices;
using AnchorBend.Language;
using AnchorBend.Language.Syntax;
using AnchorBend.Modeling.Documents;

namespace AnchorBend.Modeling.Written;

/// <summary>The class that a definition with a form of its own comes to.</summary>
/// <param name="Text">Null where it cannot be written.</param>
/// <param name="Definition">Null where something is wrong in it.</param>
sealed record WrittenClass(string? Text, ClassDefinition? Definition, IReadOnlyList<LanguageError> Errors)
{
    /// <summary>The class of a definition, made once for as long as that stays as it is.</summary>
    public static WrittenClass For(WrittenDefinition definition) => Known.GetValue(definition, Of);

    static readonly ConditionalWeakTable<WrittenDefinition, WrittenClass> Known = [];

    static WrittenClass Of(WrittenDefinition definition)
    {
        try
        {
            var text = definition.Write();
            var (parsed, errors) = Parser.ParseFile(text);
            return new WrittenClass(text, errors.Count == 0 ? parsed[0] : null, errors);
        }
        catch (LanguageException e)
        {
            return new WrittenClass(null, null, [e.Error]);
        }
        catch (DocumentException e)
        {
            return new WrittenClass(null, null, [new LanguageError(definition.Noun, e.Message, default, null)]);
        }
    }
}
