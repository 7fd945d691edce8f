using Microsoft.EntityFrameworkCore.Metadata.Builders;

namespace Vellumkeep.Storage.Rows;

/// <summary>The keys and indexes of <see cref="LinkRow"/>.</summary>
internal sealed class LinkTable : IEntityTypeConfiguration<LinkRow>
{
    // What is projected is written in the same stroke as its record, which never goes: a foreign key on it would
    // hold nothing and cost a look-up for each row.
    public void Configure(EntityTypeBuilder<LinkRow> e)
    {
        e.HasKey(l => new
        {
            l.FromId,
            l.ToId,
            l.Role,
        });
        e.HasIndex(l => new { l.ToId, l.Role });
    }
}

/// <summary>The keys and indexes of <see cref="VersionLinkRow"/>.</summary>
internal sealed class VersionLinkTable : IEntityTypeConfiguration<VersionLinkRow>
{
    public void Configure(EntityTypeBuilder<VersionLinkRow> e)
    {
        e.HasKey(l => new
        {
            l.ToId,
            l.RecordId,
            l.Version,
        });
        e.HasIndex(l => l.RecordId);
    }
}

/// <summary>The keys and indexes of <see cref="PrefixRow"/>.</summary>
internal sealed class PrefixTable(string byteOrder) : IEntityTypeConfiguration<PrefixRow>
{
    public void Configure(EntityTypeBuilder<PrefixRow> e)
    {
        e.HasKey(p => p.Id);
        e.HasIndex(p => p.RecordId);
        e.HasIndex(p => new
        {
            p.GatewayId,
            p.Family,
            p.Low,
        });
        e.HasIndex(p => new { p.Family, p.Low });
        e.Property(p => p.Low).UseCollation(byteOrder);
        e.Property(p => p.High).UseCollation(byteOrder);
    }
}

/// <summary>The keys and indexes of <see cref="SharedEntryRow"/>.</summary>
internal sealed class SharedEntryTable : IEntityTypeConfiguration<SharedEntryRow>
{
    public void Configure(EntityTypeBuilder<SharedEntryRow> e)
    {
        e.HasKey(h => new
        {
            h.GatewayId,
            h.Part,
            h.TunnelId,
        });
        e.HasIndex(h => h.TunnelId);
    }
}

/// <summary>The keys and indexes of <see cref="LookupRow"/>.</summary>
internal sealed class LookupTable : IEntityTypeConfiguration<LookupRow>
{
    public void Configure(EntityTypeBuilder<LookupRow> e)
    {
        e.HasKey(l => new
        {
            l.GatewayId,
            l.Key,
            l.TunnelId,
            l.Held,
        });
        e.HasIndex(l => l.TunnelId);
    }
}

/// <summary>The keys and indexes of <see cref="TunnelRow"/>.</summary>
internal sealed class TunnelTable : IEntityTypeConfiguration<TunnelRow>
{
    public void Configure(EntityTypeBuilder<TunnelRow> e)
    {
        e.HasKey(t => t.Id);
        e.HasIndex(t => t.CheckAgainOn);
        e.HasIndex(t => t.CheckedBy);
        e.HasIndex(t => t.Worst);
    }
}

/// <summary>The keys and indexes of <see cref="FindingRow"/>.</summary>
internal sealed class FindingTable(string byteOrder) : IEntityTypeConfiguration<FindingRow>
{
    public void Configure(EntityTypeBuilder<FindingRow> e)
    {
        e.HasKey(f => new
        {
            f.TunnelId,
            f.Code,
            f.Subject,
        });
        e.HasIndex(f => new
        {
            f.Code,
            f.Severity,
            f.CodeKey,
        });
        e.HasIndex(f => new
        {
            f.Severity,
            f.CodeKey,
            f.Code,
            f.Subject,
        });
        e.HasIndex(f => new
        {
            f.OwnerId,
            f.Severity,
            f.CodeKey,
        });
        e.HasIndex(f => new { f.TunnelId, f.Severity });
        e.Property(f => f.CodeKey).UseCollation(byteOrder);
    }
}

/// <summary>The keys and indexes of <see cref="WordRow"/>.</summary>
internal sealed class WordTable(string byteOrder) : IEntityTypeConfiguration<WordRow>
{
    public void Configure(EntityTypeBuilder<WordRow> e)
    {
        e.HasKey(w => new
        {
            w.Word,
            w.RecordId,
            w.Field,
        });
        e.HasIndex(w => w.RecordId);
        e.Property(w => w.Word).UseCollation(byteOrder);
    }
}

/// <summary>The keys and indexes of <see cref="DueRow"/>.</summary>
internal sealed class DueTable(string byteOrder) : IEntityTypeConfiguration<DueRow>
{
    public void Configure(EntityTypeBuilder<DueRow> e)
    {
        e.HasKey(d => new
        {
            d.RecordId,
            d.Kind,
            d.Path,
        });
        e.HasIndex(d => d.On);
        e.Property(d => d.On).UseCollation(byteOrder);
    }
}
