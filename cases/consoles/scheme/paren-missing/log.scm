(define (note text)
  (display text)
  (newline)

(note "the ferry leaves")
