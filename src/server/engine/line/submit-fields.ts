import type { Outgoing } from '../../../core/line/effects';
import { airParts } from '../../../core/text/air';
import type { ShortMessageFields } from '../../../smpp/pdu';
import { relativeTime } from '../../../smpp/relative-time';
import type { Words } from './claim-texts';

/**
 * SMPP v3.4 §4.4.1. A name as sender is alphanumeric (TON 5), a short code network specific (TON 3), a number international
 * (TON 1). The validity ends when the text is of no use any more or its recipient's quiet hours begin.
 */
export function submitFields(part: Outgoing, words: Words, now: number): ShortMessageFields {
  // the joining reference is the text's, the same for all its parts and for a retry
  const air = airParts(words.body, words.alphabet, part.text & 0xff, words.showAtOnce ?? undefined)[part.no - 1];
  const { senderKind } = words;
  return {
    service_type: '',
    source_addr_ton: senderKind === 'name' ? 5 : senderKind === 'short' ? 3 : 1,
    source_addr_npi: senderKind === 'name' ? 0 : 1,
    source_addr: words.address.replace(/^\+/, ''),
    dest_addr_ton: 1,
    dest_addr_npi: 1,
    destination_addr: words.number.replace(/^\+/, ''),
    esm_class: air.esm_class,
    protocol_id: 0,
    priority_flag: 0,
    schedule_delivery_time: '',
    validity_period: relativeTime(part.until - now),
    registered_delivery: 1,
    replace_if_present_flag: 0,
    data_coding: air.data_coding,
    sm_default_msg_id: 0,
    short_message: air.short_message,
  };
}
