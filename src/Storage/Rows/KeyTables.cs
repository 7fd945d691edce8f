using Microsoft.EntityFrameworkCore.Metadata.Builders;

namespace Vellumkeep.Storage.Rows;

/// <summary>The keys and indexes of <see cref="KeyRow"/>.</summary>
internal sealed class KeyTable : IEntityTypeConfiguration<KeyRow>
{
    public void Configure(EntityTypeBuilder<KeyRow> e)
    {
        e.HasKey(k => new { k.TunnelId, k.Version });
    }
}

/// <summary>The keys and indexes of <see cref="KeyViewRow"/>.</summary>
internal sealed class KeyViewTable : IEntityTypeConfiguration<KeyViewRow>
{
    public void Configure(EntityTypeBuilder<KeyViewRow> e)
    {
        e.HasKey(k => k.Id);
        e.HasIndex(k => new { k.TunnelId, k.Version });
        e.HasIndex(k => k.Who);
    }
}
