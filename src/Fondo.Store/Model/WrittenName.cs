using Microsoft.EntityFrameworkCore.Storage.ValueConversion;

namespace Fondo.Store.Model;

/// <summary>A word of a closed vocabulary, kept by its written name: the order of an enum means nothing in the database.</summary>
public sealed class WrittenName<T>() : ValueConverter<T, string>(value => value.Written(), name => Value(name))
    where T : struct, Enum
{
    private static T Value(string name) =>
        WrittenNames.Read<T>(name) ?? throw new InvalidOperationException($"{name} is no {typeof(T).Name} that this version knows.");
}
