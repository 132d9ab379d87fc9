using AnchorBend.Modeling.Charts;
using AnchorBend.Modeling.Documents;
using AnchorBend.Modeling.Tables;
using AnchorBend.Modeling.Written;
using AnchorBend.Workbench.Views;
using Microsoft.AspNetCore.OpenApi;
using Microsoft.OpenApi;

namespace AnchorBend.Server.Endpoints;

/// <summary>
/// Says of a document's types what is true of every document the server gives: what cannot be null is always there, what may be null is
/// left out then.
/// </summary>
sealed class DocumentSchema : IOpenApiSchemaTransformer
{
    static bool IsForm(Type type) =>
        type.Namespace is var place
        && (
            place == typeof(WrittenDefinition).Namespace
            || place == typeof(ChartDefinition).Namespace
            || place == typeof(DecisionTable).Namespace
            || place == typeof(AnchorBend.Modeling.Valves.ValveDefinition).Namespace
        );

    public Task TransformAsync(OpenApiSchema schema, OpenApiSchemaTransformerContext context, CancellationToken cancellationToken)
    {
        if (schema.Properties is null)
            return Task.CompletedTask;
        schema.Required ??= new HashSet<string>();
        // What a derived record inherits is no argument of its constructor, from which the rest is read off; it is always written.
        if (context.JsonTypeInfo.Type == typeof(CatalogPart))
            schema.Required.UnionWith(schema.Properties.Keys);
        if (
            context.JsonTypeInfo.Type.Namespace is var place
            && place != typeof(ModelDocument).Namespace
            && !IsForm(context.JsonTypeInfo.Type)
        )
            return Task.CompletedTask;
        foreach (var (name, property) in schema.Properties)
        {
            if (property is OpenApiSchema { Type: { } type } own && type.HasFlag(JsonSchemaType.Null))
                own.Type = type & ~JsonSchemaType.Null;
            else if (context.JsonTypeInfo.Properties.FirstOrDefault(p => p.Name == name) is { IsGetNullable: false })
                schema.Required.Add(name);
            if (name == "kind")
                schema.Required.Add(name);
        }

        return Task.CompletedTask;
    }
}
