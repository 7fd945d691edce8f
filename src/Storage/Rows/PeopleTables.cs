using Microsoft.EntityFrameworkCore.Metadata.Builders;

namespace Vellumkeep.Storage.Rows;

/// <summary>The keys and indexes of <see cref="PersonRow"/>.</summary>
internal sealed class PersonTable : IEntityTypeConfiguration<PersonRow>
{
    public void Configure(EntityTypeBuilder<PersonRow> e)
    {
        e.HasKey(p => p.Name);
    }
}

/// <summary>The keys and indexes of <see cref="TokenRow"/>.</summary>
internal sealed class TokenTable : IEntityTypeConfiguration<TokenRow>
{
    public void Configure(EntityTypeBuilder<TokenRow> e)
    {
        e.HasKey(t => t.Id);
        e.HasIndex(t => t.Hash).IsUnique();
        e.HasOne<PersonRow>().WithMany().HasForeignKey(t => t.Person);
    }
}

/// <summary>The keys and indexes of <see cref="SessionRow"/>.</summary>
internal sealed class SessionTable : IEntityTypeConfiguration<SessionRow>
{
    public void Configure(EntityTypeBuilder<SessionRow> e)
    {
        e.HasKey(s => s.Id);
        e.HasIndex(s => s.Person);
    }
}

/// <summary>The keys and indexes of <see cref="SavedFilterRow"/>.</summary>
internal sealed class SavedFilterTable : IEntityTypeConfiguration<SavedFilterRow>
{
    public void Configure(EntityTypeBuilder<SavedFilterRow> e)
    {
        e.HasKey(k => k.Id);
        e.HasIndex(k => k.Person);
    }
}

/// <summary>The keys and indexes of <see cref="CookieKeyRow"/>.</summary>
internal sealed class CookieKeyTable : IEntityTypeConfiguration<CookieKeyRow>
{
    public void Configure(EntityTypeBuilder<CookieKeyRow> e)
    {
        e.HasKey(k => k.Id);
    }
}

/// <summary>The keys and indexes of <see cref="AnsweredRow"/>.</summary>
internal sealed class AnsweredTable : IEntityTypeConfiguration<AnsweredRow>
{
    public void Configure(EntityTypeBuilder<AnsweredRow> e)
    {
        e.HasKey(a => new { a.Person, a.Key });
    }
}

/// <summary>The keys and indexes of <see cref="SignInTryRow"/>.</summary>
internal sealed class SignInTryTable : IEntityTypeConfiguration<SignInTryRow>
{
    public void Configure(EntityTypeBuilder<SignInTryRow> e)
    {
        e.HasKey(t => t.Key);
        e.HasIndex(t => t.Since);
    }
}

/// <summary>The keys and indexes of <see cref="KnownAddressRow"/>.</summary>
internal sealed class KnownAddressTable : IEntityTypeConfiguration<KnownAddressRow>
{
    public void Configure(EntityTypeBuilder<KnownAddressRow> e)
    {
        e.HasKey(k => new { k.Person, k.Address });
    }
}

/// <summary>The keys and indexes of <see cref="AuditRow"/>.</summary>
internal sealed class AuditTable(string byteOrder) : IEntityTypeConfiguration<AuditRow>
{
    public void Configure(EntityTypeBuilder<AuditRow> e)
    {
        e.HasKey(a => a.Id);
        e.HasIndex(a => new { a.Who, a.Id });
        e.HasIndex(a => a.At);
        e.Property(a => a.At).UseCollation(byteOrder);
    }
}
