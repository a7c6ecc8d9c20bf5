(define (read-list name)
  (call-with-input-file name
    (lambda (port) (read port))))

(display "reading\n")
(display (read-list "passengers.txt"))
