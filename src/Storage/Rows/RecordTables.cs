using Microsoft.EntityFrameworkCore.Metadata.Builders;

namespace Vellumkeep.Storage.Rows;

/// <summary>The keys and indexes of <see cref="CommitRow"/>.</summary>
internal sealed class CommitTable(string byteOrder) : IEntityTypeConfiguration<CommitRow>
{
    public void Configure(EntityTypeBuilder<CommitRow> e)
    {
        e.HasKey(c => c.Number);
        e.Property(c => c.Number).ValueGeneratedNever();
        e.HasIndex(c => c.ChangeId);
        e.HasIndex(c => new { c.Who, c.Number });
        e.HasIndex(c => c.At);
        e.Property(c => c.At).UseCollation(byteOrder);
    }
}

/// <summary>The keys and indexes of <see cref="VersionRow"/>.</summary>
internal sealed class VersionTable(string byteOrder) : IEntityTypeConfiguration<VersionRow>
{
    public void Configure(EntityTypeBuilder<VersionRow> e)
    {
        e.HasKey(v => new { v.RecordId, v.Version });
        e.HasIndex(v => v.CommitNumber);
        e.HasIndex(v => new { v.OwnerId, v.CommitNumber });
        e.HasIndex(v => new { v.Kind, v.CommitNumber });
        e.HasIndex(v => new { v.Kind, v.CodeKey });
        e.Property(v => v.CodeKey).UseCollation(byteOrder);
        e.HasOne<CommitRow>().WithMany().HasForeignKey(v => v.CommitNumber);
    }
}

/// <summary>The keys and indexes of <see cref="RecordRow"/>.</summary>
internal sealed class RecordTable(string byteOrder) : IEntityTypeConfiguration<RecordRow>
{
    public void Configure(EntityTypeBuilder<RecordRow> e)
    {
        e.HasKey(r => r.Id);
        e.Property(r => r.Version).IsConcurrencyToken();
        e.HasIndex(r => new { r.Kind, r.CodeKey }).IsUnique();
        e.Property(r => r.CodeKey).UseCollation(byteOrder);
        e.HasIndex(r => new
        {
            r.Kind,
            r.OwnerId,
            r.CodeKey,
        });
        e.HasIndex(r => new
        {
            r.Kind,
            r.State,
            r.CodeKey,
        });
    }
}

/// <summary>The keys and indexes of <see cref="ProofFileRow"/>.</summary>
internal sealed class ProofFileTable : IEntityTypeConfiguration<ProofFileRow>
{
    public void Configure(EntityTypeBuilder<ProofFileRow> e)
    {
        e.HasKey(f => new { f.ChangeId, f.Digest });
    }
}
