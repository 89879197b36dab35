/**
 * Parses JSON documents and keeps where each part stood in them; spells and edits them; and what texts of every kind share. Judges nothing. Who may enter: every room of the
 * core. It enters no other room.
 */
@NullMarked
package warden.core.document;

import org.jspecify.annotations.NullMarked;
