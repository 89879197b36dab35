package warden.core.audit;

/** One question to a set-up. An implementation reads what was surveyed and nothing else. */
public interface Check {
    /** Returns the check's entry in the catalogue. */
    CheckCard card();

    /** Returns the question, ready to be put to each thing that it applies to. */
    Asking asking(AuditContext context);
}
