using System.Linq.Expressions;
using Microsoft.EntityFrameworkCore;
using Microsoft.EntityFrameworkCore.Metadata.Builders;

namespace Fondo.Store.Model.Tables;

internal static class DayKeys
{
    /// <summary>The row belongs to a day, and no day is deleted while a row belongs to it.</summary>
    public static void OfDay<T>(this EntityTypeBuilder<T> entity, Expression<Func<T, object?>> day)
        where T : class => entity.HasOne<DayRow>().WithMany().HasForeignKey(day).OnDelete(DeleteBehavior.Restrict);
}
