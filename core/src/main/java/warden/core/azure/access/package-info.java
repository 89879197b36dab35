/**
 * Who may do what in the second provider's accounts: by roles, by keys, anonymously; how far each ability reaches; answers to questions.
 * Who may enter: checks, sites, trim, the adapter. It enters roles and accounts.
 */
@NullMarked
package warden.core.azure.access;

import org.jspecify.annotations.NullMarked;
